import fs, { type FileHandle } from 'node:fs/promises'
import os from 'node:os'
import path from 'node:path'
import type { ByteSource } from '../src/formats/bytes'
import { InputError } from './failure'

/** A file on disk whose bytes are read as they are needed. */
export interface OpenFile extends ByteSource {
  close(): Promise<void>
}

function handleBytes(handle: FileHandle, size: number): OpenFile {
  return {
    size,
    async read(from, to) {
      const bytes = new Uint8Array(Math.max(0, Math.min(to, size) - from))
      let done = 0
      while (done < bytes.length) {
        const { bytesRead } = await handle.read(bytes, done, bytes.length - done, from + done)
        if (bytesRead === 0) break
        done += bytesRead
      }
      return bytes.subarray(0, done)
    },
    close: () => handle.close(),
  }
}

/** Opens a file for reading; one that cannot be read is an `InputError`. */
export async function openFile(file: string): Promise<OpenFile> {
  try {
    const handle = await fs.open(file)
    const stat = await handle.stat()
    if (stat.isDirectory()) {
      await handle.close()
      throw Object.assign(new Error('is a folder'), { code: 'EISDIR' })
    }
    return handleBytes(handle, stat.size)
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException
    const why = code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'is a folder' : message
    throw new InputError(`${file}: ${why}`)
  }
}

/** Bytes copied in one go. */
const PIECE = 1 << 20

/** Copies what can only be read forwards into a file of its own that goes when it is closed. */
export async function spooled(source: ByteSource): Promise<OpenFile> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'oaken-'))
  const remove = () => fs.rm(folder, { recursive: true, force: true })
  const handle = await fs.open(path.join(folder, 'sound'), 'w+')
  try {
    for (let at = 0; at < source.size; at += PIECE)
      await handle.write(await source.read(at, Math.min(source.size, at + PIECE)))
  } catch (error) {
    await handle.close()
    await remove()
    throw error
  }
  const file = handleBytes(handle, source.size)
  return {
    ...file,
    async close() {
      await file.close()
      await remove()
    },
  }
}

/** A file that is being written: under another name until it is whole, so that no half of one is taken for it. */
export interface OutputFile {
  write(bytes: Uint8Array, at?: number): Promise<void>
  finish(): Promise<void>
  discard(): Promise<void>
}

const isOrdinary = (file: string) =>
  fs.stat(file).then(
    (stat) => stat.isFile(),
    () => true,
  )

/** Opens a file for writing. Throws `InputError` where that cannot be. */
export async function createFile(file: string): Promise<OutputFile> {
  const failed = (error: unknown) => new InputError(`${file}: cannot be written: ${(error as Error).message}`)
  try {
    const ordinary = await isOrdinary(file)
    const partial = ordinary ? `${file}.part` : file
    const handle = await fs.open(partial, 'w')
    let length = 0
    return {
      async write(bytes, at) {
        try {
          // What is known only at the end cannot be put into a pipe any more.
          if (ordinary) await handle.write(bytes, 0, bytes.length, at ?? length)
          else if (at === undefined) await handle.write(bytes)
        } catch (error) {
          throw failed(error)
        }
        if (at === undefined) length += bytes.length
      },
      async finish() {
        await handle.close()
        if (ordinary) await fs.rename(partial, file)
      },
      async discard() {
        await handle.close()
        if (ordinary) await fs.rm(partial, { force: true })
      },
    }
  } catch (error) {
    throw failed(error)
  }
}
