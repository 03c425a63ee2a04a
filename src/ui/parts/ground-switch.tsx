import { MoonStar, Sun } from 'lucide-react'
import { groundSet } from '../../store/view'
import { ground } from '../look/ground'
import { useAppDispatch, useObservable } from './hooks'

/** Switches between the light ground and that of the evening; until it is pressed, the system chooses. */
export function GroundSwitch() {
  const dispatch = useAppDispatch()
  const evening = useObservable(ground) === 'evening'
  const words = evening ? 'Light ground' : 'Dark ground, for the evening'
  return (
    <button
      type="button"
      aria-label={words}
      title={words}
      onClick={() => void dispatch(groundSet(evening ? 'day' : 'evening'))}
      className="inline-flex h-8 w-8 shrink-0 items-center justify-center rounded-lg hover:bg-fold"
    >
      {evening ? <Sun size={16} /> : <MoonStar size={16} />}
    </button>
  )
}
