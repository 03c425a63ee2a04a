/** The path of a Chromium, installed where it can be; null when there is none. */
export function ensureChromium(): string | null
