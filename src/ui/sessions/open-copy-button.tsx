import { FolderOpen } from 'lucide-react'
import { useRef } from 'react'
import { Button } from '../parts/button'

/** A button that lets files of sessions be chosen. */
export function OpenCopyButton({ disabled, onFiles }: { disabled: boolean; onFiles(files: File[]): void }) {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        accept=".oaken,.zip,application/zip"
        aria-label="Copies of sessions"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])]
          event.target.value = ''
          if (files.length) onFiles(files)
        }}
      />
      <Button disabled={disabled} onClick={() => input.current?.click()}>
        <FolderOpen size={16} />
        Open a copy…
      </Button>
    </>
  )
}
