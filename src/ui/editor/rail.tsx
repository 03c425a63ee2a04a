import clsx from 'clsx'
import { AudioLines } from 'lucide-react'
import { Slider } from 'radix-ui'
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { setTrack, type TrackChange } from '../../core/edit'
import type { Session, Track } from '../../core/model/session'
import { FADER_DB, gainToDb } from '../../core/units/decibel'
import { dbToHeight, heightToDb } from '../../core/units/taper'
import { parseLevel, parsePan, showDb, showPan } from '../../core/units/typed'
import { commit, preview } from '../../store/edits'
import { getPlayer } from '../../store/playback'
import { beadPicked, trackPicked, viewChanged } from '../../store/view-slice'
import { colour, dyeClass } from '../look/colours'
import { preparedContext, useAppDispatch, useAppSelector, useFrame } from '../parts/hooks'
import { ValueField } from '../parts/value-field'
import { isAutomated, useLiveValue } from './use-live-value'
import { ROW_HEIGHT, RULER_HEIGHT, visibleRows } from './timeline/geometry'

/** The left rail: name, mute, solo, volume, pan and meter of every track. */
export const Rail = memo(function Rail({ session, pickedTrack, onImport }: { session: Session; pickedTrack: string | null; onImport(): void }) {
  const dispatch = useAppDispatch()
  const view = useAppSelector((s) => s.view.view)
  const { first, last } = visibleRows(view, session.trackIds.length)
  const rows = session.trackIds.length
  // One row beyond what is seen, so that Tab always finds the next track; what has the focus is brought into view.
  const from = Math.max(0, first - 1)
  const { top: viewTop, height } = view
  const show = useCallback((row: number) => {
    const top = Math.min(row * ROW_HEIGHT, Math.max(viewTop, (row + 1) * ROW_HEIGHT - height))
    if (top !== viewTop) dispatch(viewChanged({ top }))
  }, [dispatch, viewTop, height])
  const anySolo = Object.values(session.tracks).some((t) => t.soloed)
  return (
    <aside className="flex w-52 shrink-0 flex-col border-r border-seam bg-cloth" aria-label="Tracks">
      <div className="flex shrink-0 items-center justify-between border-b border-seam pr-2 pl-3" style={{ height: RULER_HEIGHT }}>
        <span className="text-xs text-soft">{rows === 0 ? 'no tracks yet' : `${rows} ${rows === 1 ? 'track' : 'tracks'}`}</span>
        <button type="button" onClick={onImport} className="inline-flex items-center gap-1 rounded-md px-2 py-1 text-xs font-medium hover:bg-fold"><AudioLines size={14} />Import…</button>
      </div>
      <div className="relative min-h-0 flex-1 overflow-hidden">
        {session.trackIds.slice(from, last + 1).map((id, i) => (
          <TrackHead key={id} session={session} track={session.tracks[id]!} index={from + i} top={(from + i) * ROW_HEIGHT - view.top} onShow={show} picked={id === pickedTrack} silenced={session.tracks[id]!.muted || (anySolo && !session.tracks[id]!.soloed)} />
        ))}
      </div>
    </aside>
  )
})

const TrackHead = memo(function TrackHead({ session, track, index, top, picked, silenced, onShow }: { session: Session; track: Track; index: number; top: number; picked: boolean; silenced: boolean; onShow(row: number): void }) {
  const dispatch = useAppDispatch()
  const trackIds = [track.id]
  const pair = track.channels === 2 && track.panMode === 'pair'
  const automated = { volume: isAutomated(session, { kind: 'lane', trackId: track.id, lane: 'volume' }), pan: isAutomated(session, { kind: 'lane', trackId: track.id, lane: pair ? 'panLeft' : 'pan' }) }
  const set = (change: TrackChange) => void dispatch(commit(setTrack, { trackIds, change }))
  const nudgeVolume = (direction: number, fine: boolean) => set({ volumeDb: Math.max(FADER_DB.min, Math.min(FADER_DB.max, Math.round(((track.volumeDb ?? FADER_DB.min) + direction * (fine ? 0.1 : 1)) * 100) / 100)) })
  const nudgePan = (direction: number, fine: boolean) => set({ pan: Math.max(-1, Math.min(1, Math.round((track.pan + direction * (fine ? 0.01 : 0.05)) * 100) / 100)) })
  return (
    <section
      aria-label={track.name} onPointerDown={() => dispatch(trackPicked(track.id))} onFocus={() => onShow(index)}
      className={clsx('absolute inset-x-0 flex flex-col gap-1 border-b border-fold px-2.5 pt-1.5 pl-4', picked && 'bg-linen')} style={{ top, height: ROW_HEIGHT }}
    >
      <span className={`absolute inset-y-0 left-0 w-1.5 ${dyeClass[track.colour]}`} aria-hidden />
      <TrackName track={track} onName={(name) => set({ name })} />
      <div className="flex items-center gap-1.5">
        <Switch letter="M" label={`Mute ${track.name}`} on={track.muted} dye="bg-ink text-white border-ink" onClick={() => set({ muted: !track.muted })} />
        <Switch letter="S" label={`Solo ${track.name}`} on={track.soloed} dye="bg-weld text-ink border-weld" onClick={() => set({ soloed: !track.soloed })} />
        {automated.volume ? <LiveField session={session} trackId={track.id} lane="volume" className="ml-auto w-[4.6rem]" /> : <ValueField
          label={`Volume of ${track.name}`} hideLabel className="ml-auto w-[4.6rem] [&_input]:h-6 [&_input]:rounded-md [&_input]:px-1 [&_input]:text-right [&_input]:text-xs" shown={showDb(track.volumeDb)}
          parse={(text) => parseLevel(text, { ...FADER_DB, silence: true })} onValue={(volumeDb) => set({ volumeDb })} onNudge={nudgeVolume}
        />}
        {automated.pan ? <LiveField session={session} trackId={track.id} lane={pair ? 'panLeft' : 'pan'} className="w-11" /> : <ValueField label={`Pan of ${track.name}`} hideLabel className="w-11 [&_input]:h-6 [&_input]:rounded-md [&_input]:px-1 [&_input]:text-right [&_input]:text-xs" shown={showPan(track.pan)} parse={parsePan} onValue={(pan) => set({ pan })} onNudge={nudgePan} />}
      </div>
      <Fader track={track} index={index} silenced={silenced} automated={automated.volume} />
    </section>
  )
})

/** The value of an automated lane at the playhead; pressing it picks the lane. */
function LiveField({ session, trackId, lane, className }: { session: Session; trackId: string; lane: 'volume' | 'pan' | 'panLeft'; className: string }) {
  const dispatch = useAppDispatch()
  const value = useLiveValue(session, useMemo(() => ({ kind: 'lane', trackId, lane }), [trackId, lane]))
  return (
    <button type="button" title="Automated: the value at the playhead. Press to see its lane" aria-label={`Automated ${lane === 'volume' ? 'volume' : 'pan'} of ${session.tracks[trackId]!.name}`} onClick={() => { dispatch(trackPicked(trackId)); dispatch(beadPicked(lane === 'volume' ? 'volume' : 'pan')) }} className={`${className} h-6 rounded-md border border-dashed px-1 text-right font-mono text-xs ${lane === 'volume' ? 'border-madder' : 'border-woad'}`}>
      <span ref={value} />
    </button>
  )
}

/** The name; double-click or Enter renames. */
function TrackName({ track, onName }: { track: Track; onName(name: string): void }) {
  const [text, setText] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => void (text !== null && input.current?.select()), [text !== null]) // eslint-disable-line react-hooks/exhaustive-deps
  if (text === null) {
    return (
      <button type="button" title="Double-click to rename" onDoubleClick={() => setText(track.name)} onKeyDown={(e) => e.key === 'Enter' && (e.preventDefault(), e.stopPropagation(), setText(track.name))} className="truncate text-left text-sm leading-5 font-semibold">
        {track.name}
      </button>
    )
  }
  const take = () => {
    const name = text.trim().slice(0, 255)
    if (name && name !== track.name) onName(name)
    setText(null)
  }
  return (
    <input
      ref={input} aria-label={`Name of ${track.name}`} value={text} maxLength={255} className="h-5 rounded border border-oak bg-white px-1 text-sm font-semibold"
      onChange={(e) => setText(e.target.value)} onBlur={take}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') take()
        if (e.key === 'Escape') setText(null)
      }}
    />
  )
}

function Switch({ letter, label, on, dye, onClick }: { letter: string; label: string; on: boolean; dye: string; onClick(): void }) {
  return (
    <button type="button" aria-label={label} title={label} aria-pressed={on} onClick={onClick} className={clsx('h-6 w-6 rounded-md border text-xs font-bold', on ? dye : 'border-seam bg-linen hover:bg-white')}>{letter}</button>
  )
}

const STEPS = 1000

/** The fader over the meter: its height follows the taper, 0 dB is marked. */
function Fader({ track, index, silenced, automated }: { track: Track; index: number; silenced: boolean; automated: boolean }) {
  const dispatch = useAppDispatch()
  const meter = useRef<HTMLCanvasElement>(null)
  const width = 182
  const toDb = (step: number) => {
    const db = heightToDb(step / STEPS)
    return step === 0 || db < FADER_DB.min ? null : Math.round(db * 10) / 10
  }
  const change = (step: number) => ({ trackIds: [track.id], change: { volumeDb: toDb(step) } })
  useFrame(() => {
    const levels = getPlayer()?.meters()
    const canvas = meter.current
    if (!canvas) return
    const [left, right] = levels ? [levels[(index + 1) * 2] ?? 0, levels[(index + 1) * 2 + 1] ?? 0] : [0, 0]
    const key = `${left}/${right}/${silenced}`
    if (canvas.dataset.key === key) return
    canvas.dataset.key = key
    const ctx = preparedContext(canvas, width, 9)
    if (!ctx) return
    ;[left, right].forEach((level, c) => {
      ctx.fillStyle = colour('fold')
      ctx.fillRect(0, c * 5, width, 4)
      ctx.fillStyle = colour(level > 1 ? 'madder' : track.colour)
      ctx.fillRect(0, c * 5, Math.max(0, Math.min(1, 1 + gainToDb(level) / 60)) * width, 4)
    })
  })
  return (
    <Slider.Root
      disabled={automated} title={automated ? 'A lane moves the volume; shape it, or bypass it in the bench' : undefined} min={0} max={STEPS} step={1} value={[Math.round((track.volumeDb === null ? 0 : dbToHeight(track.volumeDb)) * STEPS)]} aria-label={`Fader of ${track.name}`}
      onValueChange={([step]) => dispatch(preview(setTrack, change(step!)))} onValueCommit={([step]) => void dispatch(commit(setTrack, change(step!)))}
      className="relative flex h-5 touch-none items-center" onDoubleClick={() => void dispatch(commit(setTrack, { trackIds: [track.id], change: { volumeDb: 0 } }))}
    >
      <canvas ref={meter} className="pointer-events-none absolute top-1/2 left-0 -translate-y-1/2" style={{ width, height: 9 }} aria-hidden />
      <Slider.Track className="relative h-5 grow" />
      <Slider.Thumb aria-label={`Fader of ${track.name}`} aria-valuetext={showDb(track.volumeDb)} className="block h-5 w-2.5 rounded-sm border border-ink bg-white shadow-sm hover:bg-linen data-disabled:opacity-35" onKeyDown={(e) => e.stopPropagation()} />
    </Slider.Root>
  )
}
