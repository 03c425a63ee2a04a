import { clamp } from '../../../../core/units/clamp'
import { setTempo, slowestRefusal, tempoAt } from '../../../../core/edit'
import type { Session } from '../../../../core/model/session'
import { secondsToBeat, type TempoChange } from '../../../../core/units/tempo'
import type { Typed } from '../../../../core/units/typed'
import { commit } from '../../../../store/edits'
import { getPlayer } from '../../../../store/playback/playback'
import { useAppDispatch } from '../../../parts/hooks'
import { ValueField } from '../../../parts/fields/value-field'

const bpmOf = (text: string): Typed<number> => {
  const n = Number(
    text
      .trim()
      .replace(/ ?bpm$/i, '')
      .replace(',', '.'),
  )
  return /\d/.test(text) && n >= 10 && n <= 1000
    ? { ok: true, value: n }
    : { ok: false, message: 'Type a tempo from 10 to 1000 bpm, such as 96 or 97.3.' }
}

/** A typed change of the tempo: "+2", "−1.5 bpm". */
const bpmAmount = (text: string): Typed<number> => {
  const n = Number(
    text
      .replace(/[−–]/, '-')
      .replace(/ ?bpm$/i, '')
      .replace(',', '.'),
  )
  return /\d/.test(text) && Number.isFinite(n)
    ? { ok: true, value: n }
    : { ok: false, message: 'A change of the tempo is typed in bpm, such as +2.' }
}

const metreOf = (text: string): Typed<{ beatsPerBar: number; beatUnit: number }> => {
  const m = /^\s*(\d{1,2})\s*\/\s*(\d{1,2})\s*$/.exec(text)
  const [beatsPerBar, beatUnit] = [Number(m?.[1]), Number(m?.[2])]
  return beatsPerBar >= 1 && beatsPerBar <= 64 && [1, 2, 4, 8, 16, 32].includes(beatUnit)
    ? { ok: true, value: { beatsPerBar, beatUnit } }
    : { ok: false, message: 'Type a metre from 1/1 to 64/32, such as 4/4, 3/4 or 6/8.' }
}

/** Fields of the tempo and the metre at the playhead. */
export function TempoFields({ session }: { session: Session }) {
  const dispatch = useAppDispatch()
  const atBeat = secondsToBeat(session.tempo, (getPlayer()?.position() ?? 0) / session.sampleRate)
  const now = tempoAt(session, atBeat)
  const set = (change: Partial<Omit<TempoChange, 'beat'>>) =>
    void dispatch(commit(setTempo, { atBeat, change }))
  return (
    <>
      <div className="flex gap-3">
        <ValueField
          className="flex-1"
          label="Tempo"
          shown={`${now.bpm} bpm`}
          change={{ from: now.bpm, show: (bpm) => `${bpm} bpm`, amount: bpmAmount }}
          parse={(text) => {
            const bpm = bpmOf(text)
            const refusal = bpm.ok && slowestRefusal(session, bpm.value)
            return refusal ? { ok: false, message: refusal } : bpm
          }}
          onValue={(bpm) => set({ bpm })}
          onNudge={(d, fine) => {
            const bpm = clamp(Math.round((now.bpm + d * (fine ? 0.1 : 1)) * 10) / 10, 10, 1000)
            if (!slowestRefusal(session, bpm)) set({ bpm })
          }}
        />
        <ValueField
          className="w-24"
          label="Metre"
          shown={`${now.beatsPerBar}/${now.beatUnit}`}
          parse={metreOf}
          onValue={set}
        />
      </div>
      <p className="mt-3 text-sm text-soft">
        Regions, threads and markers stay where they are in time; the bars move under them.
      </p>
    </>
  )
}
