/** Tells how far something is, 0…1; an empty text ends the line. */
export type Tell = (doing: string, part: number) => void

/** Least interval between two tellings, in milliseconds. */
const TELL_MS = 200

/** Progress on one line of a terminal, written over again and again; nothing where the output goes into a pipe or a file. */
export function terminalProgress(out: { isTTY?: boolean; write(text: string): unknown }): Tell {
  if (!out.isTTY) return () => undefined
  let told = -Infinity
  let open = false
  return (doing, part) => {
    if (doing === '') {
      if (open) out.write('\r\u001b[K')
      open = false
      return
    }
    const now = performance.now()
    if (now - told < TELL_MS) return
    told = now
    open = true
    out.write(`\r\u001b[K${doing} … ${Math.round(part * 100)} %`)
  }
}
