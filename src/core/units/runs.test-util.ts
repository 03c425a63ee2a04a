/** Whether tests take all the time they want: `npm run endure unit`. */
export const ENDURE = process.env.ENDURE === '1'

/** How much of something `npm test` looks at, and how much `npm run endure` does. */
export const runs = <T>(usual: T, enduring: T): T => (ENDURE ? enduring : usual)
