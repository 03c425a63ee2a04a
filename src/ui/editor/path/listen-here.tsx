import clsx from 'clsx'
import { Ear } from 'lucide-react'
import { hereEqually, listenHere } from '../../../store/playback/listening'
import type { Listen } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'

const WAYS: readonly { way: NonNullable<Listen['here']>; text: string; title: string }[] = [
  {
    way: 'alone',
    text: 'alone',
    title: 'Hear the strip alone, as its sound leaves the picked bead (Shift+P)',
  },
  { way: 'mix', text: 'in mix', title: 'Hear the mix, with the strip as it leaves the picked bead' },
  {
    way: 'difference',
    text: 'change',
    title:
      'Hear only what the picked insert changes, or at another bead what all inserts of the strip change',
  },
]

/** Listens at the bead that is picked, and follows when another one is. */
export function ListenHere() {
  const dispatch = useAppDispatch()
  const { here, hereDb } = useAppSelector((s) => s.listening)
  return (
    <div role="group" aria-label="Listen here" className="flex h-6 items-center gap-0.5 text-xs">
      <Ear size={14} aria-hidden className={here ? 'text-oak' : 'text-soft'} />
      {WAYS.map(({ way, text, title }) => (
        <button
          key={way}
          type="button"
          aria-pressed={here === way}
          title={title}
          onClick={() => dispatch(listenHere(way))}
          className="rounded-md px-1 leading-5 text-soft hover:bg-fold hover:text-ink aria-pressed:bg-oak aria-pressed:text-white"
        >
          {text}
        </button>
      ))}
      {here && (
        <button
          type="button"
          aria-pressed={hereDb !== null}
          title="As loud as the whole mix, measured over the range or the session"
          onClick={() => void dispatch(hereEqually())}
          className={clsx(
            'rounded-md px-1 font-mono leading-5 whitespace-nowrap text-soft hover:bg-fold hover:text-ink aria-pressed:bg-oak aria-pressed:text-white',
          )}
        >
          {hereDb === null ? '=' : `${hereDb > 0 ? '+' : '−'}${Math.abs(hereDb).toFixed(1)}`}
        </button>
      )}
    </div>
  )
}
