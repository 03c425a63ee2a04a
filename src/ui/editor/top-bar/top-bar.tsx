import {
  CircleHelp,
  CornerUpLeft,
  Download,
  Ear,
  History,
  PackageCheck,
  Pause,
  Play,
  Redo2,
  Repeat,
  Search,
  SkipBack,
  Undo2,
  X,
} from 'lucide-react'
import { Popover } from 'radix-ui'
import { memo, type ReactNode } from 'react'
import { Link } from 'react-router'
import { setTitle } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { commit, jumpTo, redo, undo } from '../../../store/edits'
import { dialogShown, stopReturnsSet, type Listen } from '../../../store/view'
import { getPlayer, toggleLoop, togglePlay } from '../../../store/playback/playback'
import { listenOffset, listenPlainly, switchEqual, switchListening } from '../../../store/playback/listening'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppFields, useAppSelector } from '../../parts/hooks'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { OneStop } from '../../parts/commands/one-stop'
import { EditableName } from '../../parts/fields/editable-name'
import { saveCopyOf } from '../../parts/copies/session-copy'
import { sameParts } from '../../parts/rendering/same-parts'
import { Clock } from './clock'
import { MoreMenu } from './more-menu'
import { RidePanel } from './ride-panel'
import { unlessInDialog } from '../../parts/focus-return'

/** Title and saved state, transport, time, history, export. */
export const TopBar = memo(
  function TopBar({ session }: { session: Session }) {
    const dispatch = useAppDispatch()
    const keys = useKeyWords()
    const playing = useAppSelector((s) => s.transport.playing)
    const loop = useAppSelector((s) => s.listening.loop)
    const stopReturns = useAppSelector((s) => s.preferences.stopReturns)
    const { steps, done, readOnly } = useAppFields(({ session: { steps, done, readOnly } }) => ({
      steps,
      done,
      readOnly: readOnly !== null,
    }))
    return (
      <header className="apart shrink-0 border-b border-seam bg-cloth">
        <OneStop area="top" className="flex h-13 items-center gap-2 px-3">
          <div className="flex min-w-0 flex-1 items-center gap-3">
            <Link to="/" title="All sessions" className="shrink-0 rounded-lg p-1 hover:bg-fold">
              <img src="/icon.svg" alt="All sessions" className="h-7 w-7" />
            </Link>
            <div className="min-w-0 max-[760px]:sr-only">
              <h1 className="flex text-base leading-5 font-bold">
                <EditableName
                  name={session.title}
                  label="Title of the session"
                  className="min-w-0"
                  disabled={readOnly}
                  onName={(title) => void dispatch(commit(setTitle, { title }))}
                />
              </h1>
              <SavedState />
            </div>
          </div>
          <div className="flex items-center gap-1.5">
            <Icon
              label={`Return to the start${keys.inBrackets('to-start')}`}
              className="max-[900px]:hidden"
              onClick={() => getPlayer()?.seek(0)}
            >
              <SkipBack size={17} />
            </Icon>
            <Button
              kind="solid"
              className="w-14"
              aria-label={playing ? 'Pause' : 'Play'}
              title={`${playing ? 'Pause' : 'Play'}${keys.inBrackets('play')}`}
              onClick={() => dispatch(togglePlay())}
            >
              {playing ? <Pause size={18} fill="currentColor" /> : <Play size={18} fill="currentColor" />}
            </Button>
            <Icon
              label={`Loop the range${keys.inBrackets('loop')}`}
              className="max-[900px]:hidden"
              pressed={loop}
              onClick={() => dispatch(toggleLoop())}
            >
              <Repeat size={17} />
            </Icon>
            <Icon
              className="max-[1100px]:hidden"
              label={
                stopReturns
                  ? 'Stop returns to where playing began; press to let it stay'
                  : 'Stop stays where it is; press to let it return to where playing began'
              }
              pressed={stopReturns}
              onClick={() => dispatch(stopReturnsSet(!stopReturns))}
            >
              <CornerUpLeft size={17} />
            </Icon>
            <Clock session={session} />
          </div>
          <div className="flex flex-1 items-center justify-end gap-1.5">
            <fieldset disabled={readOnly} className="contents">
              <RidePanel session={session} />
            </fieldset>
            <ListenSwitch />
            <Icon
              label={done > 0 ? `Undo: ${steps[done - 1]!.label}` : 'Nothing to undo'}
              disabled={done === 0 || readOnly}
              onClick={() => dispatch(undo())}
            >
              <Undo2 size={17} />
            </Icon>
            <Icon
              className="max-[900px]:hidden"
              label={done < steps.length ? `Redo: ${steps[done]!.label}` : 'Nothing to redo'}
              disabled={done === steps.length || readOnly}
              onClick={() => dispatch(redo())}
            >
              <Redo2 size={17} />
            </Icon>
            <HistoryList />
            <Icon
              label="Save a copy of the session, with all its sound"
              className="max-[1100px]:hidden"
              onClick={() => void dispatch(saveCopyOf(session.id, session.title))}
            >
              <Download size={17} />
            </Icon>
            <Icon
              label={`Find a command${keys.inBrackets('commands')}`}
              className="max-[900px]:hidden"
              onClick={() => void dispatch(dialogShown('commands'))}
            >
              <Search size={17} />
            </Icon>
            <Link
              to="/help"
              title="Help"
              aria-label="Help"
              className="inline-flex h-8 w-9 items-center justify-center rounded-lg hover:bg-fold max-[900px]:hidden"
            >
              <CircleHelp size={17} />
            </Link>
            <MoreMenu />
            <Link
              to={`/session/${session.id}/export`}
              className="inline-flex h-8 items-center gap-1.5 rounded-lg bg-ink px-3 text-sm font-medium text-white hover:bg-walnut"
            >
              <PackageCheck size={16} />
              Export
            </Link>
          </div>
        </OneStop>
      </header>
    )
  },
  sameParts('id', 'title', 'tempo', 'sampleRate'),
)

function Icon({
  label,
  className = '',
  pressed,
  disabled,
  onClick,
  children,
}: {
  label: string
  className?: string
  pressed?: boolean
  disabled?: boolean
  onClick(): void
  children: ReactNode
}) {
  return (
    <Button
      className={`w-9 !px-0 ${className}`}
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </Button>
  )
}

const clock = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' })

function SavedState() {
  const { saved, readOnly, gesture, unsaved } = useAppFields(
    ({ session: { saved, readOnly, base, unsaved } }) => ({
      saved,
      readOnly,
      gesture: base !== null,
      unsaved,
    }),
  )
  const text = readOnly
    ? 'read-only here'
    : saved.failure
      ? 'not saved'
      : gesture
        ? 'changing…'
        : unsaved
          ? 'saving…'
          : saved.at
            ? `saved ${clock.format(saved.at)}`
            : 'new'
  return (
    <p
      className={`truncate text-xs ${saved.failure ? 'font-semibold text-madder' : 'text-soft'}`}
      role="status"
    >
      {text}
    </p>
  )
}

/** Brings the present step into view when the list opens, and gives it the focus. */
const showPresent = (button: HTMLButtonElement | null) => {
  button?.scrollIntoView({ block: 'center' })
  button?.focus({ preventScroll: true })
}

/** All steps by name; a press goes to the one it names. */
function HistoryList() {
  const dispatch = useAppDispatch()
  const { steps, done } = useAppFields(({ session: { steps, done } }) => ({ steps, done }))
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button className="w-9 !px-0 max-[900px]:hidden" aria-label="History" title="History">
          <History size={17} />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          align="end"
          sideOffset={6}
          className="z-50 flex max-h-[60vh] w-96 flex-col rounded-xl border border-seam bg-white p-1.5 shadow-lg"
          aria-label="History"
          // The present step takes the focus instead.
          onOpenAutoFocus={(event) => event.preventDefault()}
        >
          <ol className="overflow-auto">
            {['As it was opened first', ...steps.map((s) => s.label)].map((label, i) => (
              <li key={i}>
                <button
                  type="button"
                  aria-current={i === done ? 'step' : undefined}
                  ref={i === done ? showPresent : undefined}
                  title={label}
                  onClick={() => dispatch(jumpTo(i))}
                  className={`flex w-full items-center gap-2 rounded-lg px-2 py-1 text-left text-sm hover:bg-cloth ${i === done ? 'bg-cloth font-semibold' : i > done ? 'text-soft italic' : ''}`}
                >
                  <span
                    className={`h-2 w-2 shrink-0 rotate-45 border ${i <= done ? 'border-oak bg-oak' : 'border-seam'}`}
                    aria-hidden
                  />
                  <span className="truncate">{label}</span>
                </button>
              </li>
            ))}
          </ol>
          <Popover.Close asChild>
            <Button className="mt-1.5 shrink-0" onClick={() => dispatch(dialogShown('versions'))}>
              Keep this as a version…
            </Button>
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** What is heard instead of the mix as it is, in a few words; null while it is that. */
function signOf({ here, compare, band }: Listen): string | null {
  if (band) return `band ${band.band.slice(1)} alone`
  if (here) return { alone: 'here, alone', mix: 'here, in the mix', difference: 'the difference' }[here]
  if (!compare || compare.position === 'processed') return null
  return compare.position === 'original' ? 'without it' : 'with, = loud'
}

/** Listening with the shaping or without it, at equal loudness if wished. */
function ListenSwitch() {
  const keys = useKeyWords()
  const dispatch = useAppDispatch()
  const listen = useAppSelector((s) => s.listening)
  const offset = listenOffset(listen)
  const measuring = listen.equal && listen.shapedLufs === null
  const sign = signOf(listen)
  if (sign)
    return (
      <button
        type="button"
        title="What is heard is not the mix as it is: press to hear that again"
        onClick={() => dispatch(listenPlainly())}
        className="mr-1 flex h-8 w-40 items-center max-[1100px]:w-[5.25rem] gap-1.5 rounded-lg border border-oak bg-oak px-2 text-sm text-white hover:bg-ink"
      >
        <Ear size={15} aria-hidden className="shrink-0" />
        <span className="flex-1 truncate text-left">{sign}</span>
        <X size={14} aria-hidden className="shrink-0" />
        <span className="sr-only">, press to hear the mix as it is</span>
      </button>
    )
  return (
    <div
      className="mr-1 flex h-8 items-center rounded-lg border border-seam bg-linen text-sm max-[900px]:hidden"
      role="group"
      aria-label="Listen"
    >
      <button
        type="button"
        aria-pressed={listen.unshaped}
        title={`Without gains, threads, lanes and fades; crossfades stay${keys.inBrackets('unshaped')}`}
        onClick={() => dispatch(switchListening())}
        className="h-full w-[5.25rem] rounded-l-lg px-2 hover:bg-white aria-pressed:bg-ink aria-pressed:text-white"
      >
        {listen.unshaped ? 'unshaped' : 'shaped'}
      </button>
      <button
        type="button"
        aria-pressed={listen.equal}
        title="Shaped and unshaped at the same measured loudness: the louder one is lowered while listening"
        onClick={() => void dispatch(switchEqual())}
        className="h-full w-[4.75rem] rounded-r-lg border-l border-seam px-1 font-mono text-xs whitespace-nowrap hover:bg-white aria-pressed:bg-oak aria-pressed:text-white max-[1100px]:hidden"
      >
        {measuring
          ? '…'
          : listen.equal
            ? `=${offset === 0 ? '0.0' : offset.toFixed(1).replace('-', '−')} dB`
            : '= loud'}
      </button>
    </div>
  )
}
