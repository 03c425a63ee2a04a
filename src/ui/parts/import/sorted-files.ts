import { shownText } from '../../../core/model/check/shown'
import { fileKind, type FileKind } from '../../../engine/import'
import { toast } from '../messages/toast'

/**
 * Files that were dropped or chosen: copies of sessions, and sounds, among them what may be one. The session of an unpacked copy is
 * neither, which is said.
 */
export async function sortedFiles(files: readonly File[]): Promise<{ copies: File[]; sounds: File[] }> {
  const kinds = await Promise.all(files.map(fileKind))
  const of = (...wanted: FileKind[]) => files.filter((_, i) => wanted.includes(kinds[i]!))
  for (const { name } of of('session.json'))
    toast({
      text: `“${shownText(name)}” is the session of an unpacked copy, without its sound. Pack it into a ZIP together with its folder “audio”, and open that.`,
      stays: 20_000,
    })
  return { copies: of('copy'), sounds: of('sound', 'unknown') }
}
