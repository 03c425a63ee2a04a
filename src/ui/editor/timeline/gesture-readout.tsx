import { observable } from '../../../store/observable'
import { useObservable } from '../../parts/hooks'
import { ReadoutCard, type Readout } from '../../parts/readout'

const readoutShown = observable<Readout | null>(null)

/** Says something beside the pointer; null when the gesture is over. */
export const say = readoutShown.set

/** The words beside the pointer, inside an area so large. */
export function ReadoutShown({ width, height }: { width: number; height: number }) {
  const readout = useObservable(readoutShown)
  return readout && <ReadoutCard {...readout} width={width} height={height} />
}
