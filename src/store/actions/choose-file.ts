import { fileNamePart } from '../../formats/file-name'

declare global {
  interface Window {
    /** File System Access; not in every browser. */
    showSaveFilePicker?(options: {
      suggestedName: string
      types: { description: string; accept: Record<string, string[]> }[]
    }): Promise<FileSystemFileHandle>
  }
}

/** The name of a session's file. */
export const copyName = (title: string) => `${fileNamePart(title, 'session')}.oaken`

/**
 * Asks where a copy is to go. null when the person decides against it; a download where the browser has no
 * such dialog.
 */
export async function chooseFile(title: string): Promise<FileSystemFileHandle | 'download' | null> {
  if (!window.showSaveFilePicker) return 'download'
  try {
    return await window.showSaveFilePicker({
      suggestedName: copyName(title),
      types: [{ description: 'Oaken Thread session', accept: { 'application/zip': ['.oaken'] } }],
    })
  } catch (error) {
    if ((error as DOMException).name === 'AbortError') return null
    return 'download'
  }
}
