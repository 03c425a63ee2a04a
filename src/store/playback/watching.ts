import { NOTHING_WATCHED, type Watch } from '../../engine/playback'

/** What is watched, and who has to be told of it. */
let watch: Watch = NOTHING_WATCHED
let tell: (watch: Watch) => void = () => undefined

/** Watches other levels at places of the Path, another insert's sound, or another place that is measured, from now on. */
export function setWatch(change: Partial<Watch>): void {
  const next = { ...watch, ...change }
  if (JSON.stringify(next) === JSON.stringify(watch)) return
  watch = next
  tell(watch)
}

/** Tells a player what is watched, now and later. */
export function watchWith(player: { setWatch(watch: Watch): void }): void {
  tell = (next) => player.setWatch(next)
  tell(watch)
}
