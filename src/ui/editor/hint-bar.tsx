import { takeHand } from '../../store/actions/take-hand'
import clsx from 'clsx'
import { MousePointer2, Gauge, PanelBottom, PencilLine, Spline, TextSelect, Waves } from 'lucide-react'
import { memo, useMemo, type ReactNode } from 'react'
import type { Session } from '../../core/model/session'
import { showDb, showTime } from '../../core/units/typed'
import { hasThreads } from '../../store/beads'
import { benchShown, metersShown, dialogShown, followSet } from '../../store/view'
import { useAppDispatch, useAppFields, useAppSelector, useObservable } from '../parts/hooks'
import { OneStop } from '../parts/commands/one-stop'
import { sameParts } from '../parts/rendering/same-parts'
import { useKeyWords, type KeyWords } from '../parts/commands/use-key-words'
import { underPointer } from './hands/pointed'
import { useSeams } from './parts/watch/seam-watch'
import { MonitorButton } from './meter-panel/monitor-button'

const Key = ({ children }: { children: ReactNode }) => (
  <kbd className="rounded border border-seam bg-linen px-0.5 font-mono text-[0.65rem] leading-none">
    {children}
  </kbd>
)

function hint(over: string | null, hand: string, onThread: boolean, keys: KeyWords): ReactNode {
  if (hand === 'weave' && over)
    return (
      <>
        Sweep a pattern: where you start is one limit, where you go the other · shape and note value in the
        bench
      </>
    )
  if (hand === 'draw' && over)
    return (
      <>
        Draw a level by hand · <Key>Shift</Key> straight · <Key>Ctrl</Key> curve · <Key>Esc</Key> gives up
      </>
    )
  if (hand === 'plateau' && over)
    return (
      <>
        Sweep over a word: up is louder, down is quieter · <Key>Ctrl</Key> level · <Key>Alt</Key> fine ·{' '}
        <Key>Esc</Key> gives up
      </>
    )
  switch (over) {
    case 'gain':
      return (
        <>
          Drag up or down: clip gain of what is selected · <Key>Alt</Key> fine · <Key>Esc</Key> gives up
        </>
      )
    case 'bend-in':
    case 'bend-out':
      return (
        <>
          Drag up or down: bend the fade · <Key>Alt</Key> fine · <Key>Backspace</Key> straight
        </>
      )
    case 'join':
      return (
        <>
          Drag across: crossfade, from the sound hidden beyond the cut · <Key>Enter</Key> 30 ms
        </>
      )
    case 'crossfade':
      return (
        <>
          Drag: slide the crossfade · its edges: each side · arrow keys: length · <Key>Delete</Key> removes
        </>
      )
    case 'fade-in':
    case 'fade-out':
      return (
        <>
          Drag inwards: longer fade; outwards over a neighbour: crossfade · <Key>Alt</Key> fine ·{' '}
          <Key>Backspace</Key> removes it
        </>
      )
    case 'knot':
      return (
        <>
          Drag: move the knot; far off lets it go · <Key>Alt</Key> fine · arrow keys nudge · <Key>Delete</Key>{' '}
          removes
        </>
      )
    case 'stretch':
      return (
        <>
          Drag: move this stretch · <Key>Ctrl</Key> bends it · <Key>Alt</Key> fine · double-click: add a knot
        </>
      )
    case 'knots':
      return (
        <>
          Inside: move the knots up and down · top: scale (<Key>Shift</Key> about 0 dB) · sides: stretch in
          time
        </>
      )
    case 'alone':
      return (
        <>
          Click: hear this region alone, whatever is muted or soloed · <Key>{keys.of('hear-alone')}</Key>
        </>
      )
    case 'trim-start':
    case 'trim-end':
      return (
        <>
          Drag: trim; hidden sound comes out again · <Key>Shift</Key> off the grid · <Key>Alt</Key> fine
        </>
      )
    case 'region':
      if (hand === 'range') return <>Drag: sweep a time range · click: clear it</>
      if (onThread)
        return (
          <>
            Drag: sweep over knots to select them · double-click: add a knot · to move regions pick “Clip
            gain”
          </>
        )
      return (
        <>
          Drag: move (<Key>Shift</Key> off the grid, <Key>Ctrl</Key> midway: copy) · <Key>Ctrl</Key>+drag:
          slip the sound · edges: trim · corners: fades · hem: gain · right button: more
        </>
      )
    case 'insert':
      return (
        <>
          Drag along the thread: earlier or later · <Key>Shift</Key>+<Key>←</Key>
          <Key>→</Key> the same · <Key>{keys.of('bypass-insert')}</Key> bypass · <Key>Delete</Key> removes
        </>
      )
    case 'empty':
      return hand === 'range' ? (
        <>Drag: sweep a time range · click: clear it</>
      ) : (
        <>
          Drag: select by sweeping · <Key>Ctrl</Key>+wheel: zoom · <Key>Shift</Key>+wheel: scroll sideways
        </>
      )
    default:
      return (
        <>
          <Key>Space</Key> plays · drag the ruler to seek, with <Key>Shift</Key> to set a range · drop files
          to import
        </>
      )
  }
}

/** The hands, what a drag does here, and the time and value under the pointer. */
export const HintBar = memo(
  function HintBar({ session }: { session: Session }) {
    const dispatch = useAppDispatch()
    const keys = useKeyWords()
    const { seams } = useSeams()
    const clicks = seams.filter((s) => s.clicks).length
    const { hand, bench, follow, bead, dialog, meters } = useAppFields(
      ({ selection: { hand, bead }, preferences: { bench, follow, meters }, navigation: { dialog } }) => ({
        hand,
        bench,
        follow,
        bead,
        dialog,
        meters,
      }),
    )
    const readOnly = useAppSelector((s) => s.session.readOnly !== null)
    return (
      <footer className="apart shrink-0 border-t border-seam bg-cloth text-xs">
        <OneStop area="hands" className="flex h-8 items-center gap-1.5 px-2">
          <Hand
            label="Point"
            about="Moves, trims and selects: drag things and their handles"
            pressed={hand === 'point'}
            onClick={() => dispatch(takeHand('point'))}
          >
            <MousePointer2 size={13} />
          </Hand>
          <Hand
            label="Range"
            about={keys.in(
              'Marks a stretch of time: hold [hand-range] and sweep, or tap [hand-range] to keep the hand',
            )}
            hotkey={keys.of('hand-range')}
            pressed={hand === 'range'}
            onClick={() => dispatch(takeHand('range'))}
          >
            <TextSelect size={13} />
          </Hand>
          <Hand
            label="Draw"
            about={keys.in('Draws a thread, the line of a level or pan, by hand: hold [hand-draw]')}
            hotkey={keys.of('hand-draw')}
            pressed={hand === 'draw'}
            disabled={readOnly}
            onClick={() => dispatch(takeHand('draw'))}
          >
            <PencilLine size={13} />
          </Hand>
          <Hand
            label="Plateau"
            about={keys.in(
              'Raises or lowers a stretch with one sweep, with short ramps (shoulders) at both ends: hold [hand-plateau]',
            )}
            hotkey={keys.of('hand-plateau')}
            pressed={hand === 'plateau'}
            disabled={readOnly}
            onClick={() => dispatch(takeHand('plateau'))}
          >
            <Waves size={13} />
          </Hand>
          <Hand
            label="Weave"
            about={keys.in(
              'Draws a repeating pattern over a stretch, locked to a note value: hold [hand-weave]',
            )}
            hotkey={keys.of('hand-weave')}
            pressed={hand === 'weave'}
            disabled={readOnly}
            onClick={() => dispatch(takeHand('weave'))}
          >
            <Spline size={13} />
          </Hand>
          <span className="mx-1 h-4 border-l border-seam" />
          <Hand
            label="Bench"
            shows
            about="The close-up at the bottom, with every value as a field"
            hotkey={keys.of('bench')}
            pressed={bench}
            onClick={() => dispatch(benchShown(!bench))}
          >
            <PanelBottom size={13} />
          </Hand>
          <Hand
            label="Follow"
            shows
            about="The view follows the playhead"
            hotkey={keys.of('follow')}
            pressed={follow}
            onClick={() => dispatch(followSet(!follow))}
          />
          <Hand
            label={clicks ? `Seams ${clicks}` : 'Seams'}
            about="Places where regions meet, begin or end: those that would click, and their cures"
            className="2xl:min-w-24"
            shows
            hotkey={keys.of('seams')}
            pressed={dialog === 'seams'}
            onClick={() => void dispatch(dialogShown(dialog === 'seams' ? null : 'seams'))}
          />
          <Hand
            label="Meters"
            shows
            about="Loudness, levels, phase and spectrum of what is heard, beside the tracks"
            hotkey={keys.of('meters')}
            pressed={meters}
            onClick={() => dispatch(metersShown(!meters))}
          >
            <Gauge size={13} />
          </Hand>
          <MonitorButton />
          <PointedHint session={session} hand={hand} onThread={hasThreads(bead)} />
        </OneStop>
      </footer>
    )
  },
  sameParts('regions', 'sampleRate'),
)

/** What a drag would do where the pointer is, and the time and gain there. */
function PointedHint({ session, hand, onThread }: { session: Session; hand: string; onThread: boolean }) {
  const pointed = useObservable(underPointer)
  const region = pointed?.regionId ? session.regions[pointed.regionId] : undefined
  const insertLeads = useAppSelector((s) => s.selection.lead.kind === 'insert')
  const over = pointed?.over ?? (insertLeads ? 'insert' : null)
  const keys = useKeyWords()
  const words = useMemo(() => hint(over, hand, onThread, keys), [over, hand, onThread, keys])
  return (
    <>
      <p className="line-clamp-2 min-w-0 flex-1 text-right max-[900px]:hidden text-2xs leading-[0.9rem] text-balance text-soft">
        {words}
      </p>
      <span className="flex w-16 flex-col text-right font-mono text-2xs leading-[0.9rem] max-[1100px]:hidden">
        <span>{pointed ? showTime(pointed.frame, session.sampleRate) : ''}</span>
        <span>{region ? showDb(region.clipGainDb) : ''}</span>
      </span>
    </>
  )
}

function Hand({
  label,
  about,
  className,
  hotkey,
  shows,
  pressed,
  disabled,
  onClick,
  children,
}: {
  label: string
  about: string
  className?: string
  hotkey?: string
  /** It shows or hides something: its key stands beside it only where there is plenty of room. */
  shows?: boolean
  pressed: boolean
  disabled?: boolean
  onClick(): void
  children?: ReactNode
}) {
  return (
    <button
      type="button"
      aria-label={label}
      // What a hand does says its key itself.
      title={shows && hotkey ? `${about} (${hotkey})` : about}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
      className={clsx(
        className,
        'inline-flex h-6 items-center gap-1.5 rounded-md px-2 disabled:pointer-events-none disabled:opacity-45',
        pressed ? 'bg-oak text-white' : 'hover:bg-fold',
      )}
    >
      {children}
      <span className={children ? 'max-[760px]:hidden' : undefined}>{label}</span>
      {hotkey && (
        <kbd
          className={clsx(
            'rounded border px-1 font-mono text-2xs',
            shows ? 'max-2xl:hidden' : 'max-[1180px]:hidden',
            pressed ? 'border-white/50' : 'border-seam bg-linen',
          )}
        >
          {hotkey}
        </kbd>
      )}
    </button>
  )
}
