import type { SoundSize } from '../../../engine/storage'

/** Bytes in words: "640 KB", "12.3 MB", "1.4 GB". */
export function bytesWords(bytes: number): string {
  for (const [unit, size] of [
    ['GB', 1e9],
    ['MB', 1e6],
  ] as const)
    if (bytes >= size) return `${(bytes / size).toFixed(bytes < 100 * size ? 1 : 0)} ${unit}`
  return `${Math.round(bytes / 1e3)} KB`
}

/** How much sound a session holds: alone, and together with others. */
export function sizeWords({ own, shared }: SoundSize): string {
  if (own === 0 && shared === 0) return 'no sound yet'
  if (shared === 0) return bytesWords(own)
  return own === 0 ? `${bytesWords(shared)} shared` : `${bytesWords(own)} + ${bytesWords(shared)} shared`
}
