import { Popover } from 'radix-ui'
import type { Track } from '../../../core/model/session'
import { CLIP_GAIN_DB } from '../../../core/units/decibel'
import { parseLevel, showDb } from '../../../core/units/typed'
import { changeTracks } from '../../../store/actions/track-actions'
import { useAppDispatch } from '../../parts/hooks'
import { Tick } from '../../parts/panel'
import { ValueField } from '../../parts/fields/value-field'
import { setTrackSides } from '../../../core/edit'
import { sidesOf } from '../../../core/model/sides'
import { commit } from '../../../store/edits'
import { SidesFields } from '../parts/fields/sides-fields'
import { BeadLevel } from './bead-level'
import { Station } from './path-parts'
import { unlessInDialog } from '../../parts/focus-return'

/** The level and polarity at which a strip's sound enters its path, before its inserts. */
export function TrimStation({
  track,
  folded,
  slot,
}: {
  track: Track
  folded: boolean
  /** Where the level of what comes to the inserts is noted. */
  slot: number
}) {
  const dispatch = useAppDispatch()
  const { id, name, trimDb, polarity } = track
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Station
          name="Trim"
          value={`${showDb(trimDb)}${polarity === -1 ? ' · inverted' : ''}${track.sides ? ' · sides' : ''}`}
          level={<BeadLevel slot={slot} name="the trim" />}
          title={`Trim and polarity of ${name}, before its inserts`}
          folded={folded}
        />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          onCloseAutoFocus={unlessInDialog}
          side="top"
          sideOffset={6}
          collisionPadding={8}
          aria-label={`Trim and polarity of ${name}`}
          className="z-50 flex w-[22rem] flex-col gap-2 rounded-xl border border-seam bg-linen p-3 shadow-lg"
        >
          <p className="text-xs text-soft">
            The level at which the sound enters the path, before all inserts: those that depend on level hear
            it.
          </p>
          <ValueField
            label="Trim"
            shown={showDb(trimDb)}
            parse={(text) => parseLevel(text, CLIP_GAIN_DB)}
            onValue={(level) => void dispatch(changeTracks([id], { trimDb: level ?? 0 }))}
          />
          <Tick
            checked={polarity === -1}
            onChange={(inverted) => void dispatch(changeTracks([id], { polarity: inverted ? -1 : 1 }))}
          >
            Polarity inverted
          </Tick>
          {track.channels === 2 && (
            <SidesFields
              sides={sidesOf(track)}
              onChange={(change) => void dispatch(commit(setTrackSides, { trackIds: [id], change }))}
            />
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
