import { setTitle } from '../../core/edit'
import { createSession } from '../../core/model/create'
import type { Step } from '../../core/model/history'
import { applyPatches, diff } from '../../core/model/patch'
import type { Session } from '../../core/model/session'
import * as store from './session-store'
import { keepVersion, listVersions, loadVersion } from './versions'
import { DataVanished, SessionWriter, TakenOver } from './session-writer'

/** Stores in memory whose writes fail from the `dieAt`th on, as they do for a page that is closed in the middle. */
const disk = new Map<string, Map<string, unknown>>()
let writes = 0
let dieAt = Infinity
/** How many writes fail from there on. */
let failing = Infinity

jest.mock('./storage', () => {
  const clone = (value: unknown): unknown => structuredClone(value)
  const write = async (change: () => void) => {
    await Promise.resolve()
    if (++writes > dieAt && writes <= dieAt + failing) throw new Error('the page was closed')
    change()
  }
  const database = (name: string) => {
    const records = () => disk.get(name) ?? disk.set(name, new Map()).get(name)!
    return {
      getItem: async (key: string) => Promise.resolve(clone(records().get(key) ?? null)),
      setItem: (key: string, value: unknown) => write(() => void records().set(key, clone(value))),
      removeItem: (key: string) => write(() => void records().delete(key)),
      keys: async () => Promise.resolve([...records().keys()]),
      iterate: async (visit: (value: unknown, key: string) => void) => {
        await Promise.resolve()
        for (const [key, value] of records()) visit(clone(value), key)
      },
    }
  }
  const isRecord = (key: string) => key !== '#epoch'
  return {
    EPOCH_KEY: '#epoch',
    eachRecord: (db: ReturnType<typeof database>, visit: (value: unknown, key: string) => void) =>
      db.iterate((value, key) => void (isRecord(key) && visit(value, key))),
    recordKeys: async (db: ReturnType<typeof database>) => (await db.keys()).filter(isRecord),
    sessionsDb: database('sessions'),
    headsDb: database('heads'),
    stepsDb: database('steps'),
    audioDb: database('audio'),
    chunksDb: database('chunks'),
    peaksDb: database('peaks'),
    copiesDb: database('copies'),
    versionsDb: database('versions'),
    withStorageErrors: (operation: () => Promise<unknown>) => operation(),
    withSharedLock: (operation: () => Promise<unknown>) => operation(),
    withExclusiveLock: (operation: () => Promise<unknown>) => operation(),
  }
})

/** A page that works on a session and saves every step as the autosave does: as a head, or whole. */
class Page {
  session: Session = createSession('s', 'title 0', 48000)
  steps: Step[] = []
  numbers: number[] = []
  done = 0
  private last = 0
  private writer: SessionWriter | null = null
  private saved = new Set<number>()

  async create() {
    await store.addSession(this.session, 1)
    await this.open()
  }
  /** Opens the stored session for writing, as a page does. */
  async open() {
    this.writer = await SessionWriter.begin('s', (await store.loadSession('s'))!)
  }
  step(title: string) {
    const after = setTitle.apply(this.session, { title })
    this.steps = [...this.steps.slice(0, this.done), { label: title, at: 1, ...diff(this.session, after) }]
    this.numbers = [...this.numbers.slice(0, this.done), ++this.last]
    this.session = after
    this.done++
  }
  undo() {
    this.session = applyPatches(this.session, this.steps[--this.done]!.inverse)
  }
  async save() {
    const state = { session: this.session, steps: this.numbers, done: this.done, changedAt: 1 }
    const fresh = new Map(
      this.numbers.flatMap((n, i) => (this.saved.has(n) ? [] : [[n, this.steps[i]!] as const])),
    )
    await this.writer!.save(state, fresh)
    this.saved = new Set(this.numbers)
  }
  /** Saves the session whole: databases that are read anew have no head that it could go on from. */
  async saveWhole() {
    await this.writer!.adopt()
    this.saved.clear()
    await this.save()
  }
  check() {
    return this.writer!.check()
  }
  /** What a reload should find: the session, and what its history is called. */
  get state() {
    return { title: this.session.title, labels: this.steps.map((s) => s.label), done: this.done }
  }
}

const hashOf = (letter: string) => letter.repeat(64)

const sourcesOf = (letter: string): Session['sources'] => ({
  a: { id: 'a', name: 'a', channels: 1, frames: 1, sampleRate: 48000, sha256: hashOf(letter) },
})

/** Writes until a new session is open. */
const CREATED = 8

/** Everything that can be done to a stored session, each ended by a save. */
const work: ((page: Page) => Promise<unknown>)[] = [
  (page) => page.create(),
  (page) => (page.step('title 1'), page.save()),
  (page) => (page.step('title 2'), page.step('title 3'), page.save()),
  (page) => (page.undo(), page.undo(), page.save()),
  (page) => (page.step('another way'), page.save()),
  (page) => (page.step('title 5'), page.saveWhole()),
  (page) => (page.step('title 6'), page.save()),
  (page) => (page.undo(), page.saveWhole()),
]

async function found() {
  const kept = await store.loadSession('s')
  if (!kept) return null
  // Every step that is there can be taken back, one after another.
  let { session } = kept
  for (let n = kept.done; n > 0; n--) session = applyPatches(session, kept.steps[n - 1]!.inverse)
  expect([kept.historyDropped, session.title]).toEqual([null, 'title 0'])
  return { title: kept.session.title, labels: kept.steps.map((s) => s.label), done: kept.done }
}

// Without locks writes run at once.
Object.assign(globalThis, { navigator: {} })

beforeEach(() => {
  disk.clear()
  writes = 0
  dieAt = Infinity
  failing = Infinity
})

test('a page that dies before any write leaves the state before or after what it was doing, with a history that can be walked', async () => {
  const all = new Page()
  for (const act of work) await act(all)
  const total = writes
  // Creating: session, head, five epochs, the head with its writer; whole: all steps, session, head; else new steps, head.
  expect(total).toBe(CREATED + 2 + 3 + 1 + 2 + 5 + 2 + 6)
  for (let n = 0; n < total; n++) {
    disk.clear()
    writes = 0
    dieAt = n
    const page = new Page()
    const states: unknown[] = [null]
    let died = false
    for (const act of work) {
      await act(page).catch(() => (died = true))
      states.push(page.state)
      if (died) break
    }
    expect(died).toBe(true)
    dieAt = Infinity
    const [before, after] = states.slice(-2)
    const state = await found()
    expect([before, after]).toContainEqual(state)
    // Cleaning up at any time takes nothing of it, and work goes on.
    await store.purge(Date.now())
    expect(await found()).toEqual(state)
  }
})

test('a write that fails once costs nothing: saving again, as the autosave does, keeps everything', async () => {
  for (let n = CREATED; n < 29; n++) {
    disk.clear()
    writes = 0
    dieAt = n
    failing = 1
    const page = new Page()
    for (const act of work) await act(page).catch(() => page.save())
    expect(await found()).toEqual(page.state)
  }
})

test('a write that fails leaves what was there, whichever it is: renaming, deleting, bringing back, cleaning up', async () => {
  const page = new Page()
  for (const act of work) await act(page)
  const start = structuredClone(disk)
  const acts: [string, () => Promise<unknown>, (state: unknown) => void][] = [
    [
      'rename',
      () => store.renameSession('s', 'renamed', 2),
      (s) => expect([page.state.title, 'renamed']).toContain((s as { title: string }).title),
    ],
    ['duplicate', () => store.duplicateSession('s', 'copy', 2), (s) => expect(s).toEqual(page.state)],
    ['delete', () => store.deleteSession('s', 2), (s) => expect([null, page.state]).toContainEqual(s)],
    ['purge', () => store.purge(Date.now()), (s) => expect(s).toEqual(page.state)],
  ]
  for (const [name, act, expected] of acts)
    for (let n = 0; ; n++) {
      disk.clear()
      for (const [key, records] of structuredClone(start)) disk.set(key, records)
      writes = 0
      dieAt = n
      const whole = await act().then(
        () => true,
        () => false,
      )
      dieAt = Infinity
      expected(await found())
      if (name === 'delete' && whole) {
        await store.restoreSession('s')
        expect(await found()).toEqual(page.state)
      }
      if (whole) break
    }
})

test('a kept version holds its sound and goes with its session, and no sooner', async () => {
  const page = new Page()
  await page.create()
  const version = { ...page.session, title: 'kept', sources: sourcesOf('b') }
  const { id } = await keepVersion(version, 'before', 5)
  const sound = { sha256: hashOf('b'), storageId: 'b', channels: 1, frames: 1, createdAt: 0 }
  disk.set('audio', new Map([[sound.sha256, sound]]))
  disk.set('chunks', new Map([['b/0', new ArrayBuffer(4)]]))
  await store.purge(Date.now())
  expect(await listVersions('s')).toEqual([{ id, name: 'before', at: 5 }])
  expect(await loadVersion('s', id)).toEqual(version)
  expect([...disk.get('chunks')!.keys()]).toEqual(['b/0'])
  await store.deleteSession('s', 1)
  await store.emptyTrash(['s'])
  await store.purge(Date.now())
  expect(await listVersions('s')).toEqual([])
  expect([...disk.get('chunks')!.keys()]).toEqual([])
})

describe('the right to write', () => {
  const opened = async () => {
    const page = new Page()
    await page.create()
    page.step('title 1')
    await page.save()
    return page
  }

  test('a page whose session another one took over can never write it again', async () => {
    const old = await opened()
    const young = new Page()
    await young.open()
    old.step('too late')
    await expect(old.save()).rejects.toThrow(TakenOver)
    await expect(old.check()).rejects.toThrow(TakenOver)
    expect(await found()).toMatchObject({ title: 'title 1', done: 1 })
    // Not even after the new holder has written.
    young.session = (await store.loadSession('s'))!.session
    await young.saveWhole()
    await expect(old.save()).rejects.toThrow(TakenOver)
  })

  test.each(['sessions', 'heads', 'steps', 'audio', 'chunks'])(
    'when the browser has thrown away its %s, nothing is called saved any more, and all of it can be kept anew',
    async (kind) => {
      const page = await opened()
      disk.delete(kind)
      page.step('title 2')
      await expect(page.check()).rejects.toThrow(DataVanished)
      await expect(page.save()).rejects.toThrow(DataVanished)
      await page.saveWhole()
      expect(await found()).toEqual(page.state)
    },
  )

  test('a head that reads otherwise than it was written is not called saved', async () => {
    const page = await opened()
    page.step('title 2')
    const heads = disk.get('heads')!
    const set = heads.set.bind(heads)
    heads.set = (key, value) => set(key, { ...(value as object), done: 0 })
    await expect(page.save()).rejects.toThrow(DataVanished)
  })

  test('sounds of earlier visits stay with the session when it is written whole', async () => {
    const page = new Page()
    await store.addSession({ ...page.session, sources: sourcesOf('a') }, 1)
    await page.open()
    await page.saveWhole()
    expect((await store.loadSession('s'))!.sounds).toEqual([hashOf('a')])
  })
})
