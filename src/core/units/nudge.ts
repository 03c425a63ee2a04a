import { FADER_DB } from './decibel'

/** A volume field's next value: a dB further, finely a tenth, within the range. */
export const nudgedDb = (db: number | null, direction: number, fine: boolean) =>
  Math.max(
    FADER_DB.min,
    Math.min(FADER_DB.max, Math.round(((db ?? FADER_DB.min) + direction * (fine ? 0.1 : 1)) * 100) / 100),
  )

/** A pan field's next value: a twentieth of the way from the centre to a side further, finely a hundredth. */
export const nudgedPan = (pan: number, direction: number, fine: boolean) =>
  Math.max(-1, Math.min(1, Math.round((pan + direction * (fine ? 0.01 : 0.05)) * 100) / 100))
