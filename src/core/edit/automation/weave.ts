import { putWeave, withoutWeave } from '../../curve/weave'
import type { LaneWeave, Session, Weave } from '../../model/session'
import { rowIds, stripOf } from '../../model/strips'
import { defineEdit } from '../shared/edit'
import { weaveContextOf, threadOf, threadWords, withKnots } from './thread'
import type { LaneRef } from '../shared/thread-ref'

/** A weave of a lane, by the frame at which it begins. */
export interface WeaveRef {
  ref: LaneRef
  from: number
}

/** The weave that begins at a frame of a lane; undefined without one. */
export const weaveOf = (session: Session, { ref, from }: WeaveRef): LaneWeave | undefined =>
  threadOf(session, ref)?.weaves.find((w) => w.from === from)

/** A weave for a place where none was: its cycles count from its start. */
export const placedWeave = (weave: Weave, from: number, to: number): LaneWeave => ({
  ...weave,
  from,
  to,
  origin: from,
})

/** A weave that begins and ends elsewhere: what remains keeps its phase, and beyond its old start it counts anew. */
export const resizedWeave = (weave: LaneWeave, from: number, to: number): LaneWeave => ({
  ...weave,
  from,
  to,
  origin: from < weave.origin ? from : weave.origin,
})

/**
 * Puts a weave into a lane, in place of what that did there; `replaces` is the start of one that it takes the place of.
 * Other weaves that lie in its way are divided. `also` names further lanes that get the same weave. Throws a RangeError for one without length, or that is out of range.
 */
export const setWeave = defineEdit<{
  ref: LaneRef
  weave: LaneWeave
  replaces: number | null
  what?: string
  also?: readonly LaneRef[]
}>({
  name: 'setWeave',
  label: (session, { ref, what, also }) =>
    `${what ?? 'Weave'} in ${also?.length ? `${also.length + 1} lanes` : threadWords(session, ref)}`,
  apply: (session, { ref, weave, replaces, also }) =>
    (also ?? []).reduce(
      (now, other) => withWeave(now, other, weave, null),
      withWeave(session, ref, weave, replaces),
    ),
})

function withWeave(session: Session, ref: LaneRef, weave: LaneWeave, replaces: number | null): Session {
  const thread = threadOf(session, ref)
  if (!thread) return session
  const before = replaces === null ? undefined : thread.weaves.find((w) => w.from === replaces)
  const knots = putWeave(thread.knots, weave, weaveContextOf(session, thread.kind), before ?? null)
  const others = threadOf(
    withKnots(
      session,
      ref,
      knots,
      thread.weaves.filter((w) => w !== before),
    ),
    ref,
  )!.weaves
  return withKnots(
    session,
    ref,
    knots,
    [...others, weave].sort((a, b) => a.from - b.from),
  )
}

/** Takes a weave out of a lane: a straight line is left. */
export const removeWeave = defineEdit<WeaveRef>({
  name: 'removeWeave',
  label: (session, { ref }) => `Remove a weave from ${threadWords(session, ref)}`,
  apply(session, { ref, from }) {
    const thread = threadOf(session, ref)
    const weave = thread?.weaves.find((w) => w.from === from)
    return thread && weave
      ? withKnots(session, ref, withoutWeave(thread.knots, weave, weaveContextOf(session, thread.kind)))
      : session
  },
})

/** Makes the knots of a weave ordinary ones, which can be picked. */
export const detachWeave = defineEdit<WeaveRef>({
  name: 'detachWeave',
  label: (session, { ref }) => `Detach the knots of a weave in ${threadWords(session, ref)}`,
  apply(session, { ref, from }) {
    const thread = threadOf(session, ref)
    return thread?.weaves.some((w) => w.from === from)
      ? withKnots(
          session,
          ref,
          thread.knots,
          thread.weaves.filter((w) => w.from !== from),
        )
      : session
  },
})

/** The session with all weaves worked out anew, for a tempo that has changed. */
export function withWeavesInTempo(session: Session, before: Session): Session {
  let next = session
  for (const trackId of [...rowIds(session), null])
    for (const lane of Object.keys(stripOf(session, trackId)!.lanes)) {
      const ref: LaneRef = { kind: 'lane', trackId, lane }
      const thread = threadOf(next, ref)
      if (!thread?.weaves.length) continue
      const [was, is] = [weaveContextOf(before, thread.kind), weaveContextOf(next, thread.kind)]
      const knots = thread.weaves.reduce<typeof thread.knots>(
        (now, weave) => putWeave(withoutWeave(now, weave, was), weave, is),
        thread.knots,
      )
      next = withKnots(next, ref, knots, thread.weaves)
    }
  return next
}
