import { useDrag } from '@use-gesture/react'
import { useState, type KeyboardEvent } from 'react'
import { changeMarker, removeMarker } from '../../../core/edit'
import type { Marker, Session } from '../../../core/model/session'
import { showTime } from '../../../core/units/typed'
import { commit, preview } from '../../../store/edits'
import { getPlayer } from '../../../store/playback/playback'
import type { View } from '../../../store/view'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { TextQuestion } from '../../parts/fields/text-question'
import { markerRoom } from '../drawing/draw-ruler'
import { frameToX } from '../drawing/geometry'
import { caughtFrame, snapTargets } from '../hands/snap'

/** The markers on the ruler: click goes there, drag moves, double-click or Enter renames, Delete removes. */
export function MarkerFlags({ session, view }: { session: Session; view: View }) {
  const [renaming, setRenaming] = useState<Marker | null>(null)
  const dispatch = useAppDispatch()
  const seen = session.markers
    .filter((m) => frameToX(view, m.frame) > -8 && frameToX(view, m.frame) < view.width + 8)
    .sort((a, b) => a.frame - b.frame)
  return (
    <>
      {seen.map((marker, i) => (
        <Flag
          key={marker.id}
          room={markerRoom(view, marker.frame, seen[i + 1]?.frame ?? null)}
          marker={marker}
          session={session}
          view={view}
          onRename={() => setRenaming(marker)}
        />
      ))}
      {renaming && (
        <TextQuestion
          title="Rename the marker"
          label="Name"
          initial={renaming.name}
          verb="Rename"
          onClose={() => setRenaming(null)}
          check={(text) =>
            (text.trim().length > 0 && text.length <= 255) || 'Type a name of 1 to 255 characters.'
          }
          onText={(text) =>
            void dispatch(commit(changeMarker, { id: renaming.id, change: { name: text.trim() } }))
          }
        />
      )}
    </>
  )
}

function Flag({
  room,
  marker,
  session,
  view,
  onRename,
}: {
  /** Room for its name, in pixels. */
  room: number
  marker: Marker
  session: Session
  view: View
  onRename(): void
}) {
  const dispatch = useAppDispatch()
  const timeScale = useAppSelector((s) => s.preferences.timeScale)
  const move = (frame: number) => ({ id: marker.id, change: { frame } })
  const bind = useDrag<PointerEvent>(
    ({ first, last, tap, movement: [dx], event, memo }) => {
      event.stopPropagation()
      if (first) return marker.frame
      const start = memo as number
      if (tap) getPlayer()?.seek(start)
      else {
        const frame = start + dx * view.framesPerPixel
        const targets = snapTargets(
          { ...session, markers: session.markers.filter((m) => m.id !== marker.id) },
          new Set(),
          getPlayer()?.position() ?? 0,
          null,
        )
        const to =
          event.shiftKey || event.altKey
            ? Math.round(frame)
            : caughtFrame({ session, targets, framesPerPixel: view.framesPerPixel, scale: timeScale }, frame)
                .frame
        dispatch(last ? commit(changeMarker, move(to)) : preview(changeMarker, move(to)))
      }
      return start
    },
    { pointer: { keys: false }, filterTaps: true },
  )
  const onKeyDown = (event: KeyboardEvent) => {
    // With Ctrl the arrows go from marker to marker.
    if (event.ctrlKey || event.metaKey) return
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (step)
      dispatch(
        commit(
          changeMarker,
          move(marker.frame + step * Math.round(session.sampleRate * (event.altKey ? 0.001 : 0.01))),
        ),
      )
    else if (event.key === 'Delete' || event.key === 'Backspace')
      dispatch(commit(removeMarker, { id: marker.id }))
    else if (event.key === 'Enter') onRename()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <button
      type="button"
      {...bind()}
      onKeyDown={onKeyDown}
      onDoubleClick={(e) => {
        e.stopPropagation()
        onRename()
      }}
      title={`${marker.name} (drag: move, double-click: rename, Delete: remove)`}
      aria-label={`Marker ${marker.name} at ${showTime(marker.frame, session.sampleRate)}`}
      className="group absolute bottom-0 h-6 w-6 -translate-x-1/2 touch-none"
      style={{ left: frameToX(view, marker.frame) }}
    >
      <span className="absolute bottom-0 left-1/2 block -translate-x-1/2 border-x-[6px] border-t-[9px] border-x-transparent border-t-ink group-hover:border-t-oak" />
      {room > 16 && (
        <span
          className="pointer-events-none absolute bottom-0 left-4.5 truncate text-left text-2xs leading-3.5 text-ink"
          style={{ maxWidth: room }}
        >
          {marker.name}
        </span>
      )}
    </button>
  )
}
