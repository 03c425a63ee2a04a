import localforage from 'localforage'

/*
 * localForage's own driver for IndexedDB cannot be used again once opening a database has failed, as it does
 * while the disk is full. This one opens again with every operation until it succeeds. It reads and writes the
 * same databases: one object store of records by their keys.
 */

const RECORDS = 'keyvaluepairs'

const DRIVER = 'oaken-indexeddb'

const resultOf = <T>(request: IDBRequest<T>): Promise<T> =>
  new Promise((resolve, reject) => {
    request.onsuccess = () => resolve(request.result)
    request.onerror = () => reject(request.error!)
  })

/** Opens a database, makes its object store where there is none, and resolves to it. */
function open(name: string, version?: number): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const request = indexedDB.open(name, version)
    request.onupgradeneeded = () => {
      if (!request.result.objectStoreNames.contains(RECORDS)) request.result.createObjectStore(RECORDS)
    }
    request.onsuccess = () => {
      const database = request.result
      if (database.objectStoreNames.contains(RECORDS)) return resolve(database)
      database.close()
      open(name, database.version + 1).then(resolve, reject)
    }
    request.onerror = () => reject(request.error!)
  })
}

const lossListeners = new Set<() => void>()

/** Calls back whenever the browser has closed a database without being asked. */
export const onConnectionLost = (listener: () => void): void => void lossListeners.add(listener)

/** A database that is opened when it is needed, and again when the browser has closed it. */
class Connection {
  private database: Promise<IDBDatabase> | null = null

  constructor(private readonly name: string) {}

  private opened(): Promise<IDBDatabase> {
    this.database ??= open(this.name).then(
      (database) => {
        database.onclose = () => {
          this.database = null
          for (const listener of lossListeners) listener()
        }
        // Another tab wants to remove or to change it.
        database.onversionchange = () => {
          database.close()
          this.database = null
        }
        return database
      },
      (error: unknown) => {
        this.database = null
        throw error
      },
    )
    return this.database
  }

  private async begun(mode: IDBTransactionMode): Promise<IDBTransaction> {
    try {
      return (await this.opened()).transaction(RECORDS, mode)
    } catch (error) {
      // It was closed without a word.
      if ((error as DOMException).name !== 'InvalidStateError') throw error
      this.database = null
      return (await this.opened()).transaction(RECORDS, mode)
    }
  }

  /** Resolves to what a request gives. */
  async read<T>(request: (records: IDBObjectStore) => IDBRequest<T>): Promise<T> {
    return resultOf(request((await this.begun('readonly')).objectStore(RECORDS)))
  }

  /** Resolves when a write is complete: its transaction, not only its request. */
  async write(request: (records: IDBObjectStore) => IDBRequest): Promise<void> {
    const transaction = await this.begun('readwrite')
    const complete = new Promise<void>((resolve, reject) => {
      transaction.oncomplete = () => resolve()
      transaction.onerror = transaction.onabort = () =>
        reject(transaction.error ?? new DOMException('The transaction was aborted.', 'AbortError'))
    })
    try {
      request(transaction.objectStore(RECORDS))
    } catch (error) {
      complete.catch(() => undefined)
      transaction.abort()
      throw error
    }
    return complete
  }

  /** Calls `visit` with every record. */
  async each(visit: (value: unknown, key: string) => void): Promise<void> {
    const request = (await this.begun('readonly')).objectStore(RECORDS).openCursor()
    return new Promise((resolve, reject) => {
      request.onerror = () => reject(request.error!)
      request.onsuccess = () => {
        const cursor = request.result
        if (!cursor) return resolve()
        visit(cursor.value, cursor.key as string)
        cursor.continue()
      }
    })
  }
}

const connections = new Map<string, Connection>()

function connectionOf(name: string): Connection {
  const known = connections.get(name) ?? new Connection(name)
  connections.set(name, known)
  return known
}

/** A driver's methods are called on localForage's instance. */
interface Instance {
  config(): { name?: string }
}

const of = (instance: Instance) => connectionOf(instance.config().name!)

const keysOf = async (instance: Instance): Promise<string[]> =>
  (await of(instance).read((records) => records.getAllKeys())) as string[]

const driver = {
  _driver: DRIVER,
  _support: true,
  _initStorage: () => Promise.resolve(),
  async getItem(this: Instance, key: string) {
    return ((await of(this).read((records) => records.get(key))) as unknown) ?? null
  },
  async setItem(this: Instance, key: string, value: unknown) {
    await of(this).write((records) => records.put(value, key))
    return value
  },
  removeItem(this: Instance, key: string) {
    return of(this).write((records) => records.delete(key))
  },
  clear(this: Instance) {
    return of(this).write((records) => records.clear())
  },
  length(this: Instance) {
    return of(this).read((records) => records.count())
  },
  async key(this: Instance, index: number) {
    return (await keysOf(this))[index] ?? null
  },
  keys(this: Instance) {
    return keysOf(this)
  },
  iterate(this: Instance, visit: (value: unknown, key: string) => void) {
    return of(this).each(visit)
  },
}

void localforage.defineDriver(driver as unknown as LocalForageDriver)

/** A database of records by their keys. */
export const openDatabase = (name: string): LocalForage =>
  localforage.createInstance({ name, driver: DRIVER })

/** How many records of a database have keys that begin with a text. */
export const countKeys = (name: string, prefix: string): Promise<number> =>
  connectionOf(name).read((records) => records.count(IDBKeyRange.bound(prefix, `${prefix}\uffff`)))
