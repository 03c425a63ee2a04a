import { observable } from '../../../store/observable'
import { useObservable } from '../../parts/hooks'
import { ReadoutCard, type Readout } from '../../parts/rendering/readout'

const readoutShown = observable<Readout | null>(null)

/** Shows a text beside the pointer; null removes it. */
export const say = readoutShown.set

/**
 * The text beside the pointer, kept inside an area of the given size. It is drawn on a canvas: a changing
 * text element would make the browser lay out the whole page each time.
 */
export function ReadoutShown({ width, height }: { width: number; height: number }) {
  const readout = useObservable(readoutShown)
  return readout && <ReadoutCard {...readout} width={width} height={height} />
}
