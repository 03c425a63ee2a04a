import type { Step } from '../../core/model/history'
import type { Session } from '../../core/model/session'
import { changedStores, ensureEpochs, type Epochs } from './epochs'
import { inTurn, readHead, writeHead, writeWhole } from './session-store'
import { withStorageErrors, type SessionHead, type SessionRecord } from './storage'

/** Another page holds the session now; this one must not write it again. */
export class TakenOver extends Error {
  override name = 'TakenOver'
}

/** What was stored is no longer there, or no longer what was written. */
export class DataVanished extends Error {
  override name = 'DataVanished'
}

/** A session and its history as they are to be saved. */
export interface SavedHistory extends Pick<SessionRecord, 'steps' | 'done' | 'changedAt'> {
  session: Session
}

/** What a page must know of a stored session to go on writing it. */
export interface StoredState {
  /** The whole write that was read; undefined where the session has to be written whole first. */
  savedId: string | undefined
  /** The hashes of all sounds that it or its history ever used. */
  sounds: readonly string[]
}

/** After so many heads the session is written whole again. */
const WHOLE_EVERY = 200

const sameHead = (a: SessionHead | null, b: SessionHead) => JSON.stringify(a) === JSON.stringify(b)

/**
 * A page's right to write a session. Whatever it says it saved was read back, in databases that are still those
 * which the page found when it began.
 */
export class SessionWriter {
  private readonly token = crypto.randomUUID()
  /** The last whole write, and how many heads were written since. null: the next write must be a whole one. */
  private base: { savedId: string; heads: number } | null
  /** Whether there must be a head: sessions from before heads existed get one with their first save. */
  private hasHead = false
  private readonly sounds: Set<string>
  private epochs!: Epochs

  private constructor(
    readonly id: string,
    { savedId, sounds }: StoredState,
  ) {
    this.base = savedId === undefined ? null : { savedId, heads: 0 }
    this.sounds = new Set(sounds)
  }

  /** Takes the right to write a stored session from whoever has it. */
  static async begin(id: string, stored: StoredState): Promise<SessionWriter> {
    const writer = new SessionWriter(id, stored)
    writer.epochs = await ensureEpochs()
    await inTurn(id, async () => {
      const head = await readHead(id)
      writer.hasHead = head !== null
      if (head) await writeHead(id, { ...head, writer: writer.token }, new Map())
    })
    return writer
  }

  /** Throws `TakenOver` or `DataVanished` where this page may not write, or can no longer. */
  async check(): Promise<void> {
    const [head, changed] = await withStorageErrors(() =>
      Promise.all([readHead(this.id), changedStores(this.epochs)]),
    )
    this.expectMine(head, changed)
  }

  private expectMine(head: SessionHead | null, changed: readonly string[]): void {
    if (changed.length) throw new DataVanished(`new databases: ${changed.join(', ')}`)
    if (!head && this.hasHead) throw new DataVanished('the head is missing')
    if (head && head.writer !== this.token) throw new TakenOver()
  }

  /**
   * Saves the newest state: the new steps and the place in the history, and now and then the session whole.
   * Resolves when it is stored and was read back. Throws `StorageError`, `TakenOver` and `DataVanished`.
   */
  async save(state: SavedHistory, fresh: ReadonlyMap<number, Step>): Promise<void> {
    await inTurn(this.id, async () => {
      const head = await readHead(this.id)
      this.expectMine(head, await changedStores(this.epochs))
      const written = await this.write(head, state, fresh)
      const [read, changed] = await Promise.all([readHead(this.id), changedStores(this.epochs)])
      if (!sameHead(read, written)) throw new DataVanished('the head reads otherwise than it was written')
      this.expectMine(read, changed)
    })
  }

  private async write(
    stored: SessionHead | null,
    { session, steps, done, changedAt }: SavedHistory,
    fresh: ReadonlyMap<number, Step>,
  ): Promise<SessionHead> {
    for (const { sha256 } of Object.values(session.sources)) this.sounds.add(sha256)
    const sounds = [...this.sounds]
    if (this.base && this.base.heads < WHOLE_EVERY && stored?.base === this.base.savedId) {
      const head = { base: this.base.savedId, steps, done, changedAt, sounds, writer: this.token }
      await writeHead(this.id, head, fresh)
      this.base.heads++
      return head
    }
    const head = await writeWhole({ session, steps, done, changedAt, sounds }, fresh, this.token)
    this.base = { savedId: head.base, heads: 0 }
    this.hasHead = true
    return head
  }

  /**
   * Goes on in the databases as they are now, after `DataVanished`. The next `save` must bring the session with
   * all steps.
   */
  async adopt(): Promise<void> {
    this.epochs = await ensureEpochs()
    this.base = null
    this.hasHead = false
  }
}
