import { useMemo } from 'react'
import type { Session, Track } from '../../../../core/model/session'
import { pathTrack } from '../../../../store/selectors'
import { Button } from '../../../parts/button'
import { useAppSelector } from '../../../parts/hooks'
import { Panel } from '../../../parts/panel'
import { PhaseOfRegions, SidesOfRegions } from './of-regions'
import { PhaseOfTracks, SidesOfTrack } from './of-tracks'

/**
 * Left against right of a stereo region or track, and two regions or tracks of one event against each other; what cancels can be
 * heard cured first.
 */
export function SidesDialog({ session: heard, onClose }: { session: Session; onClose(): void }) {
  // What is only heard is not measured: that of before stays shown.
  const base = useAppSelector((s) => s.session.base)
  const session = base ?? heard
  const selection = useAppSelector((s) => s.selection.regionIds)
  const heads = useAppSelector((s) => s.selection.trackIds)
  const picked = useAppSelector(pathTrack)?.id
  const ofHeads = useAppSelector((s) => s.selection.lead.kind === 'tracks')
  const regions = useMemo(
    () => (ofHeads ? [] : selection.flatMap((id) => session.regions[id] ?? [])),
    [ofHeads, selection, session.regions],
  )
  const stereo = regions.filter((r) => session.sources[r.sourceId]!.channels === 2)
  const [first, second, third] = regions
  const pair =
    first && second && !third && first.trackId !== second.trackId ? ([first, second] as const) : null
  // Where heads were pressed last, or without a region, it is about their tracks.
  const tracks = regions.length
    ? []
    : (heads.length ? heads : picked ? [picked] : []).flatMap((id): readonly Track[] => {
        const track = session.tracks[id]
        return track ? [track] : []
      })
  const [one, other] = tracks
  const pairOfTracks = one && other && tracks.length === 2 ? ([one, other] as const) : null
  const names = (pair ?? pairOfTracks)?.map(({ name }) => `“${name}”`).join(' and ')
  const about =
    names ??
    (regions.length
      ? stereo.length === 1
        ? `“${stereo[0]!.name}”`
        : `${stereo.length} stereo regions`
      : tracks.length === 1
        ? `The track “${one!.name}”, before its inserts`
        : 'Select a region or a track, or two of one event.')
  const sided = stereo.length > 0 || (tracks.length === 1 && one!.channels === 2)
  return (
    <Panel
      title="Left and right, and phase"
      about={about}
      onClose={onClose}
      footer={<Button onClick={onClose}>Close</Button>}
    >
      {stereo.length > 0 && <SidesOfRegions session={session} regions={stereo} />}
      {tracks.length === 1 && one!.channels === 2 && <SidesOfTrack session={session} track={one!} />}
      {pair && <PhaseOfRegions session={session} pair={pair} />}
      {pairOfTracks && <PhaseOfTracks session={session} pair={pairOfTracks} />}
      {!sided && !pair && !pairOfTracks && (
        <p className="text-sm text-soft">
          {regions.length === 0 && tracks.length !== 1
            ? 'Press a region or a track’s head; with Shift a second one. This panel stays open.'
            : 'It is mono and has no sides. With Shift select a second one of the same event, on another track, to compare both.'}
        </p>
      )}
    </Panel>
  )
}
