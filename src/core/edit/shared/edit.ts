import { together } from '../../model/groups'
import type { Session } from '../../model/session'

/**
 * A named change of a session. `apply` is pure and returns the same session when nothing changes; `label`
 * names it in the history.
 */
export interface Edit<Args> {
  name: string
  label(session: Session, args: Args): string
  apply(session: Session, args: Args): Session
  /** The same edit for what goes along because its tracks are in a group; edits without it are made as they are. */
  together?(session: Session, args: Args): EditTogether<Args>
}

/** An edit of a group: its arguments, and the tracks of the group that have nothing which it could be made on. */
export interface EditTogether<Args> {
  args: Args
  missing: readonly string[]
}

/** For edits of regions: the regions of the groups go along. */
export function groupRegions<Args extends { regionIds: readonly string[] }>(
  session: Session,
  args: Args,
): EditTogether<Args> {
  const { regionIds, missing } = together(session, args.regionIds)
  return { args: { ...args, regionIds }, missing }
}

/** An edit that is made on what it names and on nothing else, though its tracks are in a group. */
export function alone<Args>({ together: _, ...edit }: Edit<Args>): Edit<Args> {
  return edit
}

/** Declares an edit. */
export const defineEdit = <Args>(edit: Edit<Args>): Edit<Args> => edit

/** "region" for one, "3 regions" for several. */
export const counted = (count: number, noun: string) => (count === 1 ? noun : `${count} ${noun}s`)

/** A session with some regions replaced by changed ones; the same session when none changed. */
export function mapRegions(
  session: Session,
  regionIds: readonly string[],
  change: (region: Session['regions'][string]) => Session['regions'][string],
): Session {
  let regions: Session['regions'] | null = null
  for (const id of regionIds) {
    const region = session.regions[id]
    if (!region) continue
    const changed = change(region)
    if (changed === region) continue
    regions ??= { ...session.regions }
    regions[id] = changed
  }
  return regions ? { ...session, regions } : session
}

/** From one value to another, with the unit once: "−7.5 → −4.2 dB". */
export function changeWords(from: string, to: string): string {
  const unit = / [a-z%]+$/i.exec(to)?.[0]
  return `${unit !== undefined && from.endsWith(unit) ? from.slice(0, -unit.length) : from} → ${to}`
}

/** The names of one region in quotes, or how many there are. */
export function regionWords(session: Session, regionIds: readonly string[]): string {
  const only = regionIds.length === 1 ? session.regions[regionIds[0]!] : undefined
  return only ? `“${only.name}”` : counted(regionIds.length, 'region')
}
