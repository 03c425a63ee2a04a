import type { ReactNode } from 'react'
import { Trash2 } from 'lucide-react'
import { useMemo, useRef } from 'react'
import { insertOf, stripOf } from '../../../../core/edit'
import { processorKind, type ProcessorSetup } from '../../../../core/dsp/processors'
import { BYPASSED, insertKindOf } from '../../../../core/model/inserts/insert-kinds'
import type { InsertPicture } from '../../../../core/model/inserts/insert-types'
import { insertLaneKey } from '../../../../core/model/parameters'
import type { Insert, Session } from '../../../../core/model/session'
import { insertsOf, rowOf } from '../../../../core/model/strips'
import { insertSetup } from '../../../../core/render'
import { givePreset } from '../../../../store/actions/presets'
import { pathTrack } from '../../../../store/selectors'
import { dropInsert, letInsertAct } from '../../../../store/actions/strip-actions'
import type { InsertRef } from '../../../../store/view'
import { METER_FRAMES, PROBE_NUMBERS } from '../../../../engine/playback'
import { getPlayer } from '../../../../store/playback/playback'
import { showText, useAppDispatch, useAppSelector, useFrame } from '../../../parts/hooks'
import { Tick } from '../../../parts/panel'
import { CopyMenu } from '../../parts/copy-menu'
import { LaneButton } from '../../parts/inserts/insert-fields'
import { InsertValues } from '../../parts/inserts/insert-values'
import { PresetMenu } from '../../parts/inserts/preset-menu'
import { SmallButton } from '../../parts/small-button'
import { slotOfWatched, watchedPlaces } from '../../parts/watch/watched'
import { BenchFrame } from '../bench-frame'
import { CompareSwitch } from './compare'
import { EchoPicture } from './echo-picture'
import { EqualiserPicture } from './equaliser-picture'
import { ReductionPicture } from './reduction-picture'
import { SaturatorPicture } from './saturator-picture'
import { SpectrumPicture } from './spectrum-picture'

/** An insert in the bench: a picture of what it does, and all its values. */
export function InsertBench({ session, subject }: { session: Session; subject: InsertRef }) {
  const { stripId, insertId } = subject
  const dispatch = useAppDispatch()
  const insert = insertOf(session, stripId, insertId)!
  const kind = insertKindOf(insert.kind)
  const name = kind.name.toLowerCase()
  const strip = stripOf(session, stripId)!
  const setup = useMemo(() => insertSetup(session, strip, insert, 2), [session, strip, insert])
  const { sampleRate } = session
  const ahead = processorKind(insert.kind).latencyFrames(setup)
  const ms = (frames: number) => `${Math.round((frames / sampleRate) * 10_000) / 10} ms`
  return (
    <BenchFrame
      session={session}
      title={kind.name}
      about={[stripId === null ? 'mix' : rowOf(session, stripId)!.name]}
      wide
      times={
        <div className="mt-1.5 flex flex-col gap-1.5">
          <div className="flex items-center gap-1">
            <Tick
              checked={!insert.bypassed}
              onChange={(acts) => void dispatch(letInsertAct(stripId, insertId, acts))}
            >
              acts
            </Tick>
            <span className="flex-1" />
            <LaneButton
              session={session}
              id={stripId}
              lane={insertLaneKey(insertId, BYPASSED.key)}
              what={`Bypass of the ${name}`}
            />
            <CopyMenu session={session} id={stripId} insert={insert} />
            <SmallButton
              label={`Remove the ${name}`}
              title="Remove it, with its lanes"
              onPress={() => void dispatch(dropInsert(stripId, insertId))}
            >
              <Trash2 size={14} />
            </SmallButton>
          </div>
          <PresetMenu
            key={insertId}
            kind={insert.kind}
            insert={insert}
            onTake={({ name: called, inserts }) =>
              void dispatch(givePreset(stripId, insert, called, inserts[0]!))
            }
          />
          <CompareSwitch subject={subject} />
          <Cost session={session} subject={subject} />
          {ahead > 0 && (
            <p
              className="text-xs text-soft"
              title="Its strip is rendered as much earlier, so that all stays in its place"
            >
              looks {ms(ahead)} ahead
            </p>
          )}
        </div>
      }
      picture={<InsertPicture session={session} insert={insert} setup={setup} subject={subject} />}
    >
      <InsertValues session={session} id={stripId} insert={insert} />
    </BenchFrame>
  )
}

/** How much of a processor's core an insert takes while it plays, averaged over some seconds. */
function Cost({ session, subject }: { session: Session; subject: InsertRef }) {
  const track = useAppSelector(pathTrack)
  const watched = useMemo(() => (track ? watchedPlaces(session, track) : []), [session, track])
  const slot = slotOfWatched(watched, subject)
  const text = useRef<HTMLParagraphElement>(null)
  const state = useRef({ part: 0, at: 0 })
  useFrame((shows) => {
    const s = state.current
    const now = performance.now()
    const seconds = Math.min(0.5, (now - s.at) / 1000)
    s.at = now
    const numbers = slot < 0 ? null : getPlayer()?.meters()
    if (!numbers) return
    const part = numbers[slot + PROBE_NUMBERS - 1]! / ((METER_FRAMES / session.sampleRate) * 1000)
    s.part += (part - s.part) * (1 - Math.exp(-seconds / 2))
    if (shows) showText(text.current, s.part < 1e-5 ? '' : `takes ${(s.part * 100).toFixed(2)} % of a core`)
  })
  return <p ref={text} className="min-h-4 text-xs text-soft" title="Measured while it plays" />
}

function InsertPicture({
  session,
  insert,
  setup,
  subject: { stripId, insertId },
}: {
  session: Session
  insert: Insert
  setup: ProcessorSetup
  subject: InsertRef
}) {
  const strip = stripOf(session, stripId)!
  const track = useAppSelector(pathTrack)
  const watched = useMemo(() => (track ? watchedPlaces(session, track) : []), [session, track])
  const chain = insertsOf(strip)
  const before = chain[chain.findIndex((i) => i.id === insertId) - 1]?.id ?? null
  const slots = {
    before: slotOfWatched(watched, { stripId, insertId: before }),
    after: slotOfWatched(watched, { stripId, insertId }),
  }
  // A kind names its picture; each picture must be here.
  const pictures: Record<InsertPicture, () => ReactNode> = {
    response: () => <EqualiserPicture insert={insert} id={stripId} setup={setup} />,
    reduction: () => <ReductionPicture key={insertId} insert={insert} setup={setup} slots={slots} />,
    curve: () => <SaturatorPicture setup={setup} before={slots.before} />,
    echoes: () => <EchoPicture setup={setup} tempo={session.tempo} />,
    spectrum: () => <SpectrumPicture key={insertId} sampleRate={session.sampleRate} />,
  }
  return pictures[insertKindOf(insert.kind).picture]()
}
