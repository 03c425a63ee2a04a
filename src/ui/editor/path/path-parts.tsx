import clsx from 'clsx'
import { useRef, type ComponentProps, type ReactNode } from 'react'
import { gainToDb } from '../../../core/units/decibel'
import { showDb } from '../../../core/units/typed'
import { METER_NUMBERS } from '../../../engine/playback'
import { getPlayer } from '../../../store/playback/playback'
import { showText, useAppSelector, useFrame } from '../../parts/hooks'

/** How the thread of the Path runs behind what lies on it. */
export const onThread = (folded: boolean) =>
  clsx(
    'relative flex shrink-0 flex-col justify-center px-1 text-left',
    'before:absolute before:inset-x-0 before:border-t-2 before:border-dashed before:border-walnut/60',
    folded ? 'before:top-[0.8rem]' : 'before:top-[0.95rem]',
  )

/** A place of the Path that is opened and not picked: it has a panel of its own. */
export function Station({
  name,
  value,
  title,
  folded,
  level,
  ...button
}: {
  name: string
  value: string
  title: string
  folded: boolean
  /** How loud it is there, above its value. */
  level?: ReactNode
} & ComponentProps<'button'>) {
  return (
    <button
      type="button"
      aria-haspopup="dialog"
      {...button}
      title={title}
      className={clsx('group/bead', onThread(folded))}
    >
      <span className="relative flex items-center gap-1 rounded-md border border-seam bg-fold py-px pr-1.5 pl-2 text-sm leading-5 font-medium whitespace-nowrap group-hover/bead:bg-linen">
        {name}
        <span aria-hidden className="text-soft">
          …
        </span>
      </span>
      {!folded && (
        <>
          {level ?? <span className="h-1.5" />}
          <span className="flex h-4 items-center pl-2 text-xs text-soft">
            <span className="max-w-32 truncate">{value}</span>
          </span>
        </>
      )}
    </button>
  )
}

/** The level at which a strip leaves its fader and pan: its highest peak since playing began. `slot` is that of its meter. */
export function Level({ slot, name, folded }: { slot: number; name: string; folded: boolean }) {
  const playing = useAppSelector((s) => s.transport.playing)
  const held = useRef({ playing: false, peak: 0, slot })
  const text = useRef<HTMLSpanElement>(null)
  useFrame((shows) => {
    const h = held.current
    if ((playing && !h.playing) || h.slot !== slot) h.peak = 0
    h.playing = playing
    h.slot = slot
    const meters = getPlayer()?.meters()
    const at = slot * METER_NUMBERS
    if (meters) h.peak = Math.max(h.peak, meters[at] ?? 0, meters[at + 1] ?? 0)
    if (!shows || !text.current) return
    showText(
      text.current,
      h.peak === 0 ? '—' : showDb(Math.round(gainToDb(h.peak) * 10) / 10).replace(' dB', ''),
    )
    text.current.classList.toggle('text-fault', h.peak > 1)
  })
  return (
    <div title={`Highest peak of ${name} since playing began, in dBFS`} className={onThread(folded)}>
      <span className="relative self-start rounded-full bg-fold px-2 text-2xs leading-5 text-soft">
        <span className="sr-only">Highest peak of {name}: </span>
        <span aria-hidden>peak </span>
        <span ref={text} className="font-mono">
          —
        </span>
      </span>
      {!folded && <span className="h-5.5" />}
    </div>
  )
}
