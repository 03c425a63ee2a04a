/** Held while a session is open for editing, so that a second tab opens it read-only. */
let release: () => void = () => undefined

const lockName = (id: string) => `oaken-thread/session/${id}`

/** Acquires the exclusive right to edit a session; false when another tab has it. */
export async function takeLock(id: string, onStolen: () => void): Promise<boolean> {
  releaseLock()
  if (!navigator.locks) return true
  for (let tries = 0; tries < 6; tries++) {
    if (await requestLock(id, { ifAvailable: true }, onStolen)) return true
    // This tab itself may have let go only a moment ago.
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  return false
}

/** Requests the right to edit a session; resolves to whether it was granted. `onStolen` is called when another tab takes it. */
export function requestLock(id: string, options: LockOptions, onStolen: () => void): Promise<boolean> {
  return new Promise((resolve) => {
    navigator.locks
      .request(lockName(id), options, (lock) => {
        resolve(lock !== null)
        return lock ? new Promise<void>((done) => (release = done)) : undefined
      })
      .catch(onStolen)
  })
}

/** Whether another tab has a session open for editing. */
export async function isOpenElsewhere(id: string): Promise<boolean> {
  const { held } = (await navigator.locks?.query()) ?? {}
  return held?.some(({ name }) => name === lockName(id)) ?? false
}

/** Releases the right to edit. */
export const releaseLock = () => {
  release()
  release = () => undefined
}
