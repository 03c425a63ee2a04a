/** Characters that a file name is made of: letters with their marks, figures, and a few signs; no path, nothing hidden. */
const OTHERS = /[^\p{L}\p{M}\p{N} ._,()+-]+/gu

/** Characters of a name, and its bytes in UTF-8, at most: file systems take names of 255 bytes, and something may be added. */
const MOST = 80
const MOST_BYTES = 180

/** A text as a part of a file's name that any system takes, in whatever script; `otherwise` where nothing is left of it. */
export function fileNamePart(text: string, otherwise: string): string {
  const plain = text.normalize('NFC').replace(OTHERS, ' ').replace(/\s+/g, ' ').trim()
  // Never cut inside of what is read as one character.
  const characters = Array.from(new Intl.Segmenter().segment(plain), ({ segment }) => segment)
  let kept = ''
  for (const character of characters.slice(0, MOST)) {
    if (new TextEncoder().encode(kept + character).length > MOST_BYTES) break
    kept += character
  }
  return kept.trim().replace(/^\.+/, '').trim() || otherwise
}
