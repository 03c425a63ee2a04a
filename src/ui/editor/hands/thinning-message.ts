import type { PassKept } from '../../../store/actions/riding'

const thinned = (points: number, knots: number, worst: number) =>
  `${points} points → ${knots} knots, ${worst.toFixed(1)}`

/**
 * What is said after a line was drawn by hand: how many knots it became, and how far, in the unit of
 * thinning, it lies from the hand at most. A line of one stretch, or one that is not thinned, says only its
 * knots.
 */
export const drawnMessage = (
  drawn: { knots: number; worst: number },
  points: number,
  isThinned: boolean,
  unit: string,
): string =>
  isThinned && points > 2
    ? `${thinned(points, drawn.knots, drawn.worst)} ${unit} apart at most`
    : `${drawn.knots} knots drawn`

/** What is said after a pass of riding. */
export const passMessage = ({ points, knots, worst, lanes }: Omit<PassKept, 'keepRaw'>): string =>
  `Pass kept${lanes > 1 ? ` in ${lanes} lanes` : ''}: ${thinned(points, knots, worst)} apart at most`
