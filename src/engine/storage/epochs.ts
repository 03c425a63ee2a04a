import { audioDb, chunksDb, EPOCH_KEY, headsDb, sessionsDb, stepsDb, withStorageErrors } from './storage'

/*
 * A browser whose disk is full, or that is told to forget this address, throws databases away and makes empty
 * ones in their place without a word. So each database keeps a random number, its epoch: as long as it is the
 * one that a page saw first, nothing was thrown away behind the page's back.
 */

const databases = { sessions: sessionsDb, heads: headsDb, steps: stepsDb, audio: audioDb, chunks: chunksDb }

/** Kinds of records that must all be there for a session to be whole. */
export type StoreKind = keyof typeof databases

/** The epoch of each database. */
export type Epochs = Record<StoreKind, string>

const kinds = Object.keys(databases) as StoreKind[]

const readAll = () => Promise.all(kinds.map((kind) => databases[kind].getItem<string>(EPOCH_KEY)))

/** The epochs as they are now; a database that has none yet is given one. */
export const ensureEpochs = (): Promise<Epochs> =>
  withStorageErrors(async () => {
    const ensure = async () => {
      const found = await readAll()
      const made = found.map((epoch) => epoch ?? crypto.randomUUID())
      await Promise.all(
        kinds.map((kind, i) =>
          found[i] === null ? databases[kind].setItem(EPOCH_KEY, made[i]!) : Promise.resolve(),
        ),
      )
      return Object.fromEntries(kinds.map((kind, i) => [kind, made[i]!])) as Epochs
    }
    return navigator.locks
      ? ((await navigator.locks.request('oaken-thread/epochs', ensure)) as Epochs)
      : ensure()
  })

/** The databases that are no longer those that `seen` was read from. */
export async function changedStores(seen: Epochs): Promise<StoreKind[]> {
  const now = await readAll()
  return kinds.filter((kind, i) => now[i] !== seen[kind])
}
