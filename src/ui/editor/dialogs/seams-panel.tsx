import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useState } from 'react'
import { mendSeams, type Cure } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import type { MeasuredSeam } from '../../../core/suggest/seams'
import { gainToDb } from '../../../core/units/decibel'
import { showLength, showTime } from '../../../core/units/typed'
import { commit, dropPreview, preview } from '../../../store/edits'
import { getPlayer, loopOver } from '../../../store/playback/playback'
import { selected, rollSet, viewChanged } from '../../../store/view'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { LengthField } from '../../parts/fields/length-field'
import { Panel, Tick } from '../../parts/panel'
import { useSeams } from '../parts/watch/seam-watch'

const kinds: Record<MeasuredSeam['kind'], string> = {
  start: 'start',
  end: 'end',
  join: 'join',
  crossfade: 'crossfade',
}

/** A cure in words. */
export function cureWords(cure: Cure | null, rate: number): string {
  if (!cure) return ''
  const length = showLength(cure.lengthFrames, rate)
  return cure.kind === 'fade'
    ? `fade ${cure.edge} ${length}`
    : cure.kind === 'fades'
      ? `fades ${length}`
      : `crossfade ${length}`
}

const LINE = 30
const COLUMNS = 'grid grid-cols-[4.6rem_6.5rem_4.6rem_minmax(0,1fr)_5.6rem_3rem] items-center gap-2 px-3'

/**
 * Every edge and join with its measured jump and cure; a click on a row shows it, and it can be heard with
 * and without the cure.
 */
export function SeamsPanel({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const { seams, waiting } = useSeams()
  const selectedIds = useAppSelector((s) => s.selection.regionIds)
  const view = useAppSelector((s) => s.navigation.view)
  const playing = useAppSelector((s) => s.transport.playing)
  const [onlyClicks, setOnlyClicks] = useState(true)
  const [onlySelected, setOnlySelected] = useState(false)
  const [picked, setPicked] = useState<string | null>(null)
  const [withCure, setWithCure] = useState(false)
  const [box, setBox] = useState<HTMLDivElement | null>(null)
  const rate = session.sampleRate
  const rollMs = useAppSelector((s) => s.preferences.rollMs)
  const roll = Math.round((rollMs / 1000) * rate)
  const list = useMemo(
    () =>
      seams
        .filter(
          (s) =>
            (!onlyClicks || s.clicks) &&
            (!onlySelected || [s.leftId, s.rightId].some((id) => id !== null && selectedIds.includes(id))),
        )
        .sort((a, b) => a.frame - b.frame),
    [seams, onlyClicks, onlySelected, selectedIds],
  )
  const lines = useVirtualizer({
    count: list.length,
    getScrollElement: () => box,
    estimateSize: () => LINE,
    overscan: 6,
  })
  const seam = list.find((s) => s.id === picked) ?? null
  const cures = list.filter((s) => s.clicks && s.cure).map((s) => s.cure!)
  const incurable = list.filter((s) => s.clicks && !s.cure).length
  const cureKey = JSON.stringify(seam?.cure ?? null)

  useEffect(() => {
    const cure = JSON.parse(cureKey) as Cure | null
    if (withCure && cure) dispatch(preview(mendSeams, { cures: [cure] }))
    else dispatch(dropPreview())
  }, [dispatch, withCure, cureKey])

  const show = (s: MeasuredSeam) => {
    setPicked(s.id)
    dispatch(selected({ regionIds: [s.leftId, s.rightId].filter((id) => id !== null), trackId: s.trackId }))
    const framesPerPixel = Math.min(view.framesPerPixel, (2.4 * rate) / view.width)
    // Left of the panel.
    dispatch(viewChanged({ framesPerPixel, left: Math.max(0, s.frame - view.width * 0.3 * framesPerPixel) }))
    dispatch(loopOver(Math.max(0, s.frame - roll), s.frame + roll))
    getPlayer()?.seek(Math.max(0, s.frame - roll))
    if (!getPlayer()?.playing) void getPlayer()?.play()
  }
  const hear = () => (getPlayer()?.playing ? getPlayer()?.pause() : void getPlayer()?.play())
  const mend = (some: readonly Cure[]) => {
    setWithCure(false)
    dispatch(dropPreview())
    dispatch(commit(mendSeams, { cures: some }))
  }
  const close = () => {
    getPlayer()?.pause()
    dispatch(dropPreview())
    onClose()
  }
  return (
    <Panel
      wide
      title="Seams"
      about="Every edge and join, measured: those that would click, and the shortest fade or crossfade that keeps each from it."
      onClose={close}
      footer={
        <>
          <Button disabled={!seam && !playing} onClick={hear}>
            {playing ? 'Stop' : 'Hear in a loop'}
          </Button>
          <Tick checked={withCure} onChange={setWithCure}>
            with its cure
          </Tick>
          <span className="flex-1" />
          <Button disabled={!seam?.cure} onClick={() => seam?.cure && mend([seam.cure])}>
            Mend this
          </Button>
          <Button kind="solid" disabled={cures.length === 0} onClick={() => mend(cures)}>
            {cures.length === 1 ? 'Mend 1' : `Mend all ${cures.length}`}
          </Button>
        </>
      }
    >
      <div className="mb-2 flex items-center gap-5">
        <Tick checked={onlyClicks} onChange={setOnlyClicks}>
          Only those that click
        </Tick>
        <Tick checked={onlySelected} onChange={setOnlySelected}>
          Only of selected regions
        </Tick>
        <LengthField
          session={session}
          className="ml-auto w-28 [&_input]:h-7"
          label="Pre- and post-roll"
          title="How much is heard before and after a seam, a crossfade or a region"
          frames={roll}
          min={0}
          max={60 * rate}
          onFrames={(frames) => void dispatch(rollSet((frames / rate) * 1000))}
        />
      </div>
      <p role="status" className="mb-2 text-sm text-soft">
        {waiting > 0 ? `Measuring, ${waiting} to go … ` : ''}
        {seams.filter((s) => s.clicks).length} of {seams.length} seams click
        {incurable ? `; for ${incurable} no length up to 50 ms is enough` : ''}.
      </p>
      <div className={`${COLUMNS} pb-0.5 text-xs text-soft`} aria-hidden>
        {['Time', 'Track', 'Kind', 'Shortest cure', 'Jump', ''].map((heading) => (
          <span key={heading} className={heading === 'Jump' ? 'text-right' : ''}>
            {heading}
          </span>
        ))}
      </div>
      <div
        ref={setBox}
        className="h-64 overflow-auto rounded-lg border border-seam bg-white"
        role="listbox"
        aria-label="Seams"
        tabIndex={0}
      >
        <div className="relative" style={{ height: lines.getTotalSize() }}>
          {lines.getVirtualItems().map((line) => {
            const s = list[line.index]!
            return (
              <button
                key={s.id}
                type="button"
                role="option"
                aria-selected={s.id === picked}
                onClick={() => show(s)}
                style={{ top: line.start, height: LINE }}
                className={`${COLUMNS} absolute inset-x-0 border-b border-fold text-left text-sm hover:bg-cloth aria-selected:bg-cloth aria-selected:font-semibold`}
              >
                <span className="font-mono text-xs">{showTime(s.frame, rate)}</span>
                <span className="truncate">{session.tracks[s.trackId]?.name}</span>
                <span className="text-soft">{kinds[s.kind]}</span>
                <span className="truncate text-xs">
                  {s.clicks ? cureWords(s.cure, rate) || 'no cure up to 50 ms' : ''}
                </span>
                <span className="text-right font-mono text-xs">
                  {s.jump > 0 ? `${gainToDb(s.jump).toFixed(1).replace('-', '−')} dBFS` : '—'}
                </span>
                <span className={s.clicks ? 'font-semibold text-fault' : 'text-soft'}>
                  {s.clicks ? 'clicks' : 'fine'}
                </span>
              </button>
            )
          })}
        </div>
        {list.length === 0 && waiting === 0 && (
          <p className="p-4 text-sm text-soft">
            {onlyClicks ? 'Nothing clicks here.' : 'There are no seams here.'}
          </p>
        )}
      </div>
    </Panel>
  )
}
