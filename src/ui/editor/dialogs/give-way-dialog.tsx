import { clamp } from '../../../core/units/clamp'
import { FADER } from '../../../core/model/parameters'
import { useEffect, useMemo, useRef, useState } from 'react'
import { markOfTracks, setGiveWay, threadOf } from '../../../core/edit'
import type { GiveWay, Knot, Session } from '../../../core/model/session'
import {
  giveWayKnots,
  MUSIC_RESTS,
  restShare,
  usualGiveWay,
  usualThreshold,
  whereOthersSound,
} from '../../../core/suggest/give-way'
import { parseDepth, parseMeasured, showDb, showMeasured } from '../../../core/units/typed'
import { tracksSteps } from '../../../engine/background'
import { commit, dropPreview, preview } from '../../../store/edits'
import { pathTrack } from '../../../store/selectors'
import { beadPicked } from '../../../store/view'
import { Button } from '../../parts/button'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { Panel, Tick } from '../../parts/panel'
import { GiveWayPicture } from './give-way-picture'
import { GIVE_WAY_LIMITS } from './give-way-shape'
import { LengthField } from '../../parts/fields/length-field'
import { parseDbAmount } from '../../../core/units/typed-change'
import { ValueField } from '../../parts/fields/value-field'

type Settings = Omit<GiveWay, 'others' | 'base' | 'made'>

/** Lets music give way to speech or effects: volume automation with few knots, which can be made anew after edits. */
export function GiveWayDialog({ session, onClose }: { session: Session; onClose(): void }) {
  const dispatch = useAppDispatch()
  const base = useAppSelector((s) => s.session.base) ?? session
  const track = useAppSelector(pathTrack)
  const before = track ? base.tracks[track.id]?.lanes.volume?.giveWay : undefined
  const [music, chooseMusic] = useState<string[]>(before && track ? [track.id] : [])
  const [others, chooseOthers] = useState<string[]>(before?.others ?? [])
  /** The lists as they were ticked by hand: what was touched is not proposed any more. */
  const chosen = useRef<{ music?: string[]; others?: string[] }>(before ? { music: [], others: [] } : {})
  const setMusic = (ids: string[]) => {
    chosen.current.music = ids
    chooseMusic(ids)
  }
  const setOthers = (ids: string[]) => {
    chosen.current.others = ids
    chooseOthers(ids)
  }
  // The track that was worked on gives way if it sounds without long rests; else it is given way to.
  const trackId = track?.id
  useEffect(() => {
    let over = false
    if (trackId !== undefined && !before)
      tracksSteps(base, [trackId]).then(
        (found) => {
          if (over) return
          const { music: ticked, others: given } = chosen.current
          const rests = restShare(found) >= MUSIC_RESTS
          if (!rests && !ticked && !given?.includes(trackId)) chooseMusic([trackId])
          if (rests && !given && !ticked?.includes(trackId)) chooseOthers([trackId])
        },
        () => undefined,
      )
    return () => void (over = true)
    // Once, for the track that the dialog was opened at.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])
  /** The threshold as it was typed or made from; null until then, where it follows from how loud the others are. */
  const [threshold, setThreshold] = useState<number | null>(before?.thresholdLufs ?? null)
  const [typed, setSettings] = useState<Settings>(() => {
    if (!before) return usualGiveWay
    const { others: _, base: _knots, made: _made, ...kept } = before
    return kept
  })
  // What is proposed is seen in the volume lanes.
  useEffect(() => void dispatch(beadPicked(FADER)), [dispatch])
  const [steps, setSteps] = useState<{ key: string; steps: number[] } | null>(null)
  const [shown, setShown] = useState(true)
  const key = others.join(' ')
  useEffect(() => {
    let over = false
    if (others.length)
      tracksSteps(base, others).then(
        (found) => !over && setSteps({ key, steps: found }),
        () => undefined,
      )
    return () => void (over = true)
    // Asked anew for other tracks only; what is previewed here does not change how they sound.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])

  const listened = steps?.key === key && others.length > 0 ? steps.steps : null
  const proposed = useMemo(
    () => (listened ? usualThreshold(listened) : usualGiveWay.thresholdLufs),
    [listened],
  )
  const settings = useMemo(
    () => ({ ...typed, thresholdLufs: threshold ?? proposed }),
    [typed, threshold, proposed],
  )
  const places = useMemo(
    () => (listened ? whereOthersSound(listened, base.sampleRate, settings) : []),
    [listened, base.sampleRate, settings],
  )
  const mark = useMemo(() => markOfTracks(base, others), [base, others])
  const lanes: Record<string, { knots: Knot[]; giveWay: GiveWay | null }> = {}
  for (const id of music) {
    const thread = threadOf(base, { kind: 'lane', trackId: id, lane: FADER })
    if (!thread || others.includes(id) || places.length === 0) continue
    const kept: readonly Knot[] =
      base.tracks[id]!.lanes.volume?.giveWay?.base ??
      (thread.knots.length
        ? thread.knots
        : [{ frame: 0, value: thread.kind.neutral, shape: 'line', bend: 0 }])
    lanes[id] = {
      knots: giveWayKnots(kept, places, settings, base.sampleRate),
      giveWay: { ...settings, others, base: [...kept], made: mark },
    }
  }
  const useful = Object.keys(lanes).length > 0
  const wanted = JSON.stringify([music, others, settings, places.length])
  useEffect(() => {
    if (shown && useful) dispatch(preview(setGiveWay, { lanes }))
    else dispatch(dropPreview())
    // The lanes follow from what `wanted` names.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [dispatch, wanted, shown, useful])
  const close = () => {
    dispatch(dropPreview())
    onClose()
  }
  const deeper = (byDb: number) => parseDepth(showDb(-settings.depthDb + byDb), GIVE_WAY_LIMITS.depthDb)
  // A frame of a thousand in a second is a millisecond.
  const milliseconds = { sampleRate: 1000, tempo: base.tempo }
  const time = (name: keyof Settings, label: string, max: number) => (
    <LengthField
      session={milliseconds}
      label={label}
      frames={settings[name]}
      min={0}
      max={max}
      onFrames={(ms) => setSettings((s) => ({ ...s, [name]: ms }))}
      onNudge={(d, fine) =>
        setSettings((s) => ({ ...s, [name]: clamp(s[name] + d * (fine ? 5 : 50), 0, max) }))
      }
    />
  )
  const status =
    others.length > 0 && music.length === 0
      ? 'Tick the music that is to give way.'
      : others.length === 0
        ? 'Tick the tracks that the music is to give way to.'
        : steps?.key !== key
          ? 'Listening …'
          : `${places.length} places. ${Object.values(lanes)[0]?.knots.length ?? 0} knots a lane.`
  const choose = (
    list: readonly string[],
    set: (ids: string[]) => void,
    taken: readonly string[],
    label: string,
  ) => (
    <fieldset className="min-w-0 flex-1">
      <legend className="mb-1 text-xs text-soft">{label}</legend>
      <div className="max-h-36 overflow-auto rounded-lg border border-seam bg-white px-2 py-1">
        {base.trackIds
          .filter((id) => !taken.includes(id))
          .map((id) => (
            <Tick
              key={id}
              checked={list.includes(id)}
              onChange={(on) => set(on ? [...list, id] : list.filter((x) => x !== id))}
            >
              <span className="truncate">{base.tracks[id]!.name}</span>
            </Tick>
          ))}
      </div>
    </fieldset>
  )
  return (
    <Panel
      title="Give way"
      about="Lowers the volume of the music while others sound, by ordinary knots that can be made anew."
      onClose={close}
      footer={
        <>
          {before && track && (
            <Button
              title="The knots stay, as ordinary ones"
              onClick={() => {
                dispatch(dropPreview())
                dispatch(
                  commit(setGiveWay, {
                    lanes: {
                      [track.id]: { knots: base.tracks[track.id]!.lanes.volume!.knots, giveWay: null },
                    },
                  }),
                )
                onClose()
              }}
            >
              Detach
            </Button>
          )}
          <p role="status" className="min-w-0 flex-1 text-sm">
            {status}
          </p>
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="solid"
            disabled={!useful}
            onClick={() => {
              dispatch(commit(setGiveWay, { lanes }))
              onClose()
            }}
          >
            {before ? 'Recalculate' : 'Give way'}
          </Button>
        </>
      }
    >
      <div className="flex gap-4">
        {choose(music, setMusic, others, 'Music that gives way')}
        {choose(others, setOthers, music, 'while these sound')}
      </div>
      <div className="mt-3 grid grid-cols-2 gap-3">
        <ValueField
          label="Depth"
          shown={showDb(-settings.depthDb)}
          parse={(t) => parseDepth(t, GIVE_WAY_LIMITS.depthDb)}
          change={{ from: -settings.depthDb, show: showDb, amount: parseDbAmount, add: deeper }}
          onValue={(depthDb) => setSettings((s) => ({ ...s, depthDb }))}
          onNudge={(d, fine) =>
            setSettings((s) => ({
              ...s,
              depthDb: clamp(s.depthDb - d * (fine ? 0.1 : 1), 0, GIVE_WAY_LIMITS.depthDb),
            }))
          }
        />
        <ValueField
          label="Threshold"
          shown={showMeasured(settings.thresholdLufs, 'LUFS')}
          parse={(t) => parseMeasured(t, { min: -70, max: 0, unit: 'LUFS' })}
          change={{
            from: settings.thresholdLufs,
            show: (v) => showMeasured(v, 'LUFS'),
            amount: parseDbAmount,
          }}
          onValue={(lufs) => setThreshold(lufs)}
        />
        {time('lookAheadMs', 'Down before they begin', GIVE_WAY_LIMITS.down)}
        {time('attackMs', 'Going down takes', GIVE_WAY_LIMITS.begins)}
        {time('holdMs', 'Stays down after them', GIVE_WAY_LIMITS.up)}
        {time('releaseMs', 'Coming back takes', GIVE_WAY_LIMITS.back)}
        {time('gapMs', 'Joins gaps shorter than', 20_000)}
        <div className="flex items-end pb-1.5">
          <Tick checked={shown} onChange={setShown}>
            Show and play it
          </Tick>
        </div>
      </div>
      <GiveWayPicture shape={settings} onShape={(shape) => setSettings((s) => ({ ...s, ...shape }))} />
      <p className="mt-1 text-xs text-soft">Drag its corners, or type above.</p>
    </Panel>
  )
}
