import { storageFailure } from '../storage'

/** A file that is written piece by piece without being held in memory. */
export interface Spool {
  /** Appends bytes. Throws a `StorageError` when the disk is full. */
  write(bytes: Uint8Array<ArrayBuffer>): void
  /** Replaces bytes that were written at a place. */
  patch(at: number, bytes: Uint8Array<ArrayBuffer>): void
  /** Ends the file; nothing can be written after it. */
  finish(type: string): Promise<Blob>
  /** Discards the file. */
  discard(): Promise<void>
}

const FOLDER = 'exports'

const lockOf = (name: string) => `oaken-thread/export/${name}`

async function folder(): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory()
  return root.getDirectoryHandle(FOLDER, { create: true })
}

/** A spool in the origin's private file system; rejects where the browser has none. Workers only. */
async function fileSpool(name: string): Promise<Spool> {
  const place = await folder()
  const handle = await place.getFileHandle(name, { create: true })
  const access = await handle.createSyncAccessHandle()
  let length = 0
  let open = true
  const close = () => {
    if (open) access.close()
    open = false
  }
  return {
    write(bytes) {
      try {
        for (let done = 0; done < bytes.length;) {
          const count = access.write(bytes.subarray(done), { at: length })
          if (count <= 0) throw new DOMException('no space is left', 'QuotaExceededError')
          done += count
          length += count
        }
      } catch (error) {
        throw storageFailure(error)
      }
    },
    patch(at, bytes) {
      access.write(bytes, { at })
    },
    async finish(type) {
      access.flush()
      close()
      return (await handle.getFile()).slice(0, length, type)
    },
    async discard() {
      close()
      await place.removeEntry(name).catch(() => undefined)
    },
  }
}

/** Bytes that are gathered before the browser gets them as a part, which it may then keep on disk. */
const PART_BYTES = 8 * 1024 ** 2

/** A spool that leaves its parts to the browser's store of blobs. */
export function blobSpool(): Spool {
  const parts: Blob[] = []
  let pending: Uint8Array<ArrayBuffer>[] = []
  let held = 0
  const patches: { at: number; bytes: Uint8Array<ArrayBuffer> }[] = []
  const hand = () => {
    if (held) parts.push(new Blob(pending))
    pending = []
    held = 0
  }
  return {
    write(bytes) {
      pending.push(bytes)
      held += bytes.length
      if (held >= PART_BYTES) hand()
    },
    patch(at, bytes) {
      patches.push({ at, bytes })
    },
    async finish(type) {
      hand()
      let whole = new Blob(parts, { type })
      for (const { at, bytes } of patches)
        whole = new Blob([whole.slice(0, at), bytes, whole.slice(at + bytes.length)], { type })
      return whole
    },
    async discard() {
      parts.length = 0
      pending = []
    },
  }
}

/** A new spool; `name` is that of its file, where it is one (see `keepExport`). */
export async function openSpool(name: string): Promise<Spool> {
  try {
    return await fileSpool(name)
  } catch {
    return blobSpool()
  }
}

/** Protects an exported file from `sweepExports` for as long as this page is open. */
export function keepExport(name: string): void {
  void navigator.locks?.request(lockOf(name), () => new Promise(() => undefined))
}

/** Removes exported files that no open page keeps: what earlier visits left behind. */
export async function sweepExports(): Promise<void> {
  if (!navigator.locks || !navigator.storage?.getDirectory) return
  const place = await folder()
  for await (const name of place.keys())
    await navigator.locks.request(lockOf(name), { ifAvailable: true }, async (lock) => {
      if (lock) await place.removeEntry(name).catch(() => undefined)
    })
}
