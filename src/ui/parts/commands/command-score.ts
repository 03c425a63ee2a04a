/**
 * How well a command answers a search, 0…1: every word must be in its title or its further words; the title counts more,
 * and the start of a word more than its inside.
 */
export function commandScore(title: string, words: string, search: string): number {
  const scores = search
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => {
      const inText = (text: string, whole: number, part: number) => {
        const at = text.toLowerCase().indexOf(word)
        return at < 0 ? 0 : at === 0 || /[^a-z0-9]/i.test(text[at - 1]!) ? whole : part
      }
      return Math.max(inText(title, 1, 0.5), inText(words, 0.8, 0.3))
    })
  return scores.includes(0) ? 0 : scores.reduce((sum, s) => sum + s, 0) / Math.max(1, scores.length)
}
