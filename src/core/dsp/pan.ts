import type { PanLaw } from '../model/session'
import { cosHalfPiQuick as cosHalfPi } from '../units/exact'

/** What of a channel goes to the left and to the right of the mix. */
export interface PanGains {
  left: number
  right: number
}

/**
 * Gains of a mono signal at pan -1 (left) … +1 (right) under a pan law: -3 dB (equal power), -4.5 dB or -6 dB
 * at the centre.
 */
export function panMono(law: PanLaw, pan: number): PanGains {
  const p = (pan + 1) / 2
  switch (law) {
    case 'equal-power':
      return { left: cosHalfPi(p), right: cosHalfPi(1 - p) }
    case '-4.5':
      return { left: Math.sqrt((1 - p) * cosHalfPi(p)), right: Math.sqrt(p * cosHalfPi(1 - p)) }
    case '-6':
      return { left: 1 - p, right: p }
  }
}

/** Balance of a stereo signal at pan -1…+1: the near side stays at 1, the far side falls as `cos(|pan|·π/2)`. */
export function balanceStereo(pan: number): PanGains {
  return pan <= 0 ? { left: 1, right: cosHalfPi(pan) } : { left: cosHalfPi(pan), right: 1 }
}

/**
 * Fills the gains of every pan of a row at once: mono by a law, stereo (`law` null) by balance. The same as
 * above, to the bit.
 */
export function fillPan(
  law: PanLaw | null,
  pans: Float64Array,
  count: number,
  left: Float64Array,
  right: Float64Array,
): void {
  if (law === 'equal-power') {
    for (let i = 0; i < count; i++) {
      const p = (pans[i]! + 1) / 2
      left[i] = cosHalfPi(p)
      right[i] = cosHalfPi(1 - p)
    }
  } else if (law === null) {
    for (let i = 0; i < count; i++) {
      const pan = pans[i]!
      const far = cosHalfPi(pan)
      left[i] = pan <= 0 ? 1 : far
      right[i] = pan <= 0 ? far : 1
    }
  } else {
    for (let i = 0; i < count; i++) {
      const gains = panMono(law, pans[i]!)
      left[i] = gains.left
      right[i] = gains.right
    }
  }
}
