import { besideStore } from '../../parts/beside-store'
import { ReadoutCard, type Readout } from '../../parts/readout'

const { set, use: useReadout } = besideStore<Readout | null>(null)

/** Says something beside the pointer; null when the gesture is over. */
export const say = set

/** The words beside the pointer, inside an area so large. */
export function ReadoutShown({ width, height }: { width: number; height: number }) {
  const readout = useReadout()
  return readout && <ReadoutCard {...readout} width={width} height={height} />
}
