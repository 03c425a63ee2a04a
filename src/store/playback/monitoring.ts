import { PLAIN_MONITOR, type Monitor } from '../../engine/playback'
import { observable } from '../observable'

/** How what is heard is led to the ears of the person; it ends with the page, and is no part of any file. */
export const monitor = observable<Monitor>(PLAIN_MONITOR)

/** Changes a part of it. */
export const changeMonitor = (change: Partial<Monitor>): void => monitor.set({ ...monitor.get(), ...change })

/** Leads a player so, now and later. */
export function monitorWith(player: { setMonitor(monitor: Monitor): void }): void {
  player.setMonitor(monitor.get())
  monitor.subscribe(() => player.setMonitor(monitor.get()))
}

/** What is on, in words; empty where everything is heard as it is. */
export function monitorWords({ levelDb, dim, view }: Monitor): string[] {
  const views: Record<Monitor['view'], string> = {
    stereo: '',
    mono: 'mono',
    left: 'left only',
    right: 'right only',
    swapped: 'swapped',
    side: 'side only',
  }
  const level = levelDb === 0 ? '' : `−${Math.abs(levelDb)} dB`
  return [views[view], dim ? 'dim' : '', level].filter(Boolean)
}
