import { isAiff, isWav, isZip } from '../../formats/file-heads'

/** What a file is, as far as its first bytes and its name tell. */
export type FileKind = 'copy' | 'sound' | 'session.json' | 'unknown'

/** Names of compressed sound that the browser decodes. */
const SOUND_NAMES = /\.(wav|wave|bwf|rf64|aif|aiff|aifc|flac|mp3|m4a|aac|ogg|oga|opus|webm|caf)$/i

/** What a chosen file is; never rejects. */
export async function fileKind(file: File): Promise<FileKind> {
  const head = new Uint8Array(
    await file
      .slice(0, 512)
      .arrayBuffer()
      .catch(() => new ArrayBuffer(0)),
  )
  if (isZip(head) || /\.oaken(\.zip)?$/i.test(file.name)) return 'copy'
  const text = new TextDecoder().decode(head)
  if (isWav(head) || isAiff(head) || /^(fLaC|ID3|OggS)/.test(text) || SOUND_NAMES.test(file.name))
    return 'sound'
  return /^\s*\{/.test(text) && text.includes('oaken-thread/session') ? 'session.json' : 'unknown'
}
