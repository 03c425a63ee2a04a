import { JSON_BOUNDS, mostEntries } from '../core/model/check/bounds'
import { LIMITS } from '../core/model/session'
import { shownText } from '../core/model/check/shown'
import { FileError } from './failure'

const [QUOTE, BACKSLASH, COMMA] = [0x22, 0x5c, 0x2c]
const [BRACE, BRACE_END, BRACKET, BRACKET_END] = [0x7b, 0x7d, 0x5b, 0x5d]

/** Which bytes say something about structure. */
const STRUCTURE = new Uint8Array(256)
for (const byte of [QUOTE, COMMA, BRACE, BRACE_END, BRACKET, BRACKET_END]) STRUCTURE[byte] = 1

/** Characters of a key that are looked at: no key with a bound of its own is longer. */
const KEY = 12

/** An object or a list that is open. */
interface Open {
  isObject: boolean
  /** The key that it is filed under; of what lies in a list, that of the list. */
  key: string
  commas: number
  most: number
}

/**
 * Looks through the bytes of JSON as they come, before it is parsed: how deep it goes, and how much lies in each object, list and
 * text. What is beyond the bounds of a session (`JSON_BOUNDS`) is a `FileError` at once; what is no JSON is left to the parser.
 */
export class JsonLook {
  private readonly open: Open[] = []
  private inText = false
  private escaped = false
  /** Bytes of the text that was met last, so far, and where its beginning lies: it may be a key. */
  private length = 0
  private head = ''
  private bytes: Uint8Array = new Uint8Array(0)
  private from = 0
  private to = 0
  private knots = 0

  /** Takes the next bytes, however they are cut. Throws `FileError`. */
  push(bytes: Uint8Array): void {
    for (let i = 0; i < bytes.length; i++) {
      if (this.inText) i = this.pass(bytes, i)
      else if (STRUCTURE[bytes[i]!]) this.meet(bytes[i]!)
    }
  }

  /** Goes on in a text from a place; returns the place of its last byte that is there. */
  private pass(bytes: Uint8Array, from: number): number {
    let { escaped } = this
    let i = from
    for (; i < bytes.length; i++) {
      const byte = bytes[i]!
      if (escaped) escaped = false
      else if (byte === BACKSLASH) escaped = true
      else if (byte === QUOTE) {
        this.inText = false
        break
      }
    }
    this.escaped = escaped
    this.bytes = bytes
    this.from = from
    this.to = i
    // It goes on with the next bytes.
    if (this.inText) this.head = this.lastText()
    this.length += i - from
    if (this.length > 4 * JSON_BOUNDS.text)
      throw new FileError(`has a text of more than ${JSON_BOUNDS.text} characters in its session.`)
    return i
  }

  /** The beginning of the text that was met last: of an object's value its key. */
  private lastText(): string {
    const end = Math.min(this.to, this.from + KEY - this.head.length)
    return this.head + String.fromCharCode(...this.bytes.subarray(this.from, end))
  }

  /** Takes a byte outside of texts. */
  private meet(byte: number): void {
    const { open } = this
    const now = open[open.length - 1]
    if (byte === QUOTE) {
      this.inText = true
      this.length = 0
      this.head = ''
      this.from = this.to = 0
    } else if (byte === COMMA) {
      if (now && ++now.commas >= now.most)
        throw new FileError(
          `has more than ${now.most} entries in “${shownText(now.key || 'session', 40)}” of its session.`,
        )
    } else if (byte === BRACE || byte === BRACKET) {
      const key = !now ? '' : now.isObject ? this.lastText() : now.key
      // Objects in a list of knots are knots, wherever the list is.
      if (now && !now.isObject && (key === 'knots' || key === 'base') && ++this.knots > LIMITS.knots)
        throw new FileError(`has more than ${LIMITS.knots} knots in its session.`)
      open.push({ isObject: byte === BRACE, key, commas: 0, most: mostEntries(key) })
      if (open.length > JSON_BOUNDS.depth)
        throw new FileError(`has more than ${JSON_BOUNDS.depth} objects inside each other in its session.`)
    } else if (byte === BRACE_END || byte === BRACKET_END) open.pop()
  }
}

/** Bytes that are looked at in one go. */
const PIECE = 1 << 22

/** The text of JSON that is no larger than a session may be, looked through piece by piece. Throws `FileError`. */
export async function boundedJson(
  size: number,
  read: (from: number, to: number) => Promise<Uint8Array>,
): Promise<string> {
  if (size > JSON_BOUNDS.bytes)
    throw new FileError(`has a session of ${size} bytes; at most ${JSON_BOUNDS.bytes} are taken.`)
  const look = new JsonLook()
  const decoder = new TextDecoder()
  let text = ''
  for (let at = 0; at < size; at += PIECE) {
    const piece = await read(at, Math.min(size, at + PIECE))
    look.push(piece)
    text += decoder.decode(piece, { stream: true })
  }
  return text + decoder.decode()
}
