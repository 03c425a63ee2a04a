import { colour, whenColoursChange, type ColourName } from './colours'

/** The faces of the look: one for words, one for figures, whose characters are all equally wide. */
const faces = {
  words: '"Atkinson Hyperlegible Next Variable", sans-serif',
  figures: '"Atkinson Hyperlegible Mono Variable", monospace',
}

/** How a text is written on a canvas; the size is in pixels. */
export interface Style {
  face: keyof typeof faces
  size: number
  dye: ColourName
}

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

/** A style as canvases take it. */
const fontOf = ({ face, size }: Pick<Style, 'face' | 'size'>) => `${size}px ${faces[face]}`

/** A text as a picture, in CSS pixels. */
interface Picture {
  canvas: OffscreenCanvas
  width: number
  height: number
}

/** Pictures and widths that are kept at most. */
const MOST_WRITINGS = 3000
/** Room about a text, for what reaches beyond its place. */
const PAD = 2

const pictures = new Map<string, Picture>()
const widths = new Map<string, number>()
let measuring: OffscreenCanvasRenderingContext2D | null = null
let watched = false

/** Where texts are drawn that are not kept. */
let scratch: OffscreenCanvas | null = null

/** Forgets texts that were drawn before the fonts had loaded. */
function forgetWhenLoaded(): void {
  if (watched) return
  watched = true
  whenColoursChange(() => pictures.clear())
  document.fonts.addEventListener('loadingdone', () => {
    pictures.clear()
    widths.clear()
  })
}

/** Resolves when the fonts have loaded, or cannot be loaded. */
export const facesLoaded = () =>
  Promise.allSettled(Object.values(faces).map((face) => document.fonts.load(`12px ${face}`)))

/** The width of a text in CSS pixels; measured once. */
export function widthOf(text: string, style: Pick<Style, 'face' | 'size'>): number {
  const key = `${style.face} ${style.size} ${text}`
  let width = widths.get(key)
  if (width === undefined) {
    forgetWhenLoaded()
    measuring ??= new OffscreenCanvas(1, 1).getContext('2d')!
    measuring.font = fontOf(style)
    width = measuring.measureText(text).width
    if (widths.size >= MOST_WRITINGS) widths.clear()
    widths.set(key, width)
  }
  return width
}

/** Draws a text on a canvas of its own, which is made so large. */
function draw(canvas: OffscreenCanvas, text: string, style: Style, ratio: number): Picture {
  const [width, height] = [
    Math.ceil((Math.ceil(widthOf(text, style)) + 2 * PAD) * ratio),
    Math.ceil(Math.ceil(style.size * 1.6) * ratio),
  ]
  canvas.width = width
  canvas.height = height
  const ctx = canvas.getContext('2d', { willReadFrequently: true })!
  ctx.scale(ratio, ratio)
  ctx.font = fontOf(style)
  ctx.textBaseline = 'middle'
  ctx.fillStyle = colour(style.dye)
  ctx.fillText(text, PAD, height / ratio / 2)
  return { canvas, width: width / ratio, height: height / ratio }
}

function pictureOf(text: string, style: Style, ratio: number): Picture {
  const key = `${ratio} ${style.dye} ${style.face} ${style.size} ${text}`
  let picture = pictures.get(key)
  if (!picture) {
    if (pictures.size >= MOST_WRITINGS) pictures.clear()
    pictures.set(key, (picture = draw(new OffscreenCanvas(1, 1), text, style, ratio)))
  }
  return picture
}

/**
 * Writes a text with its left (or right) end at `x` and its middle at `y`, in CSS pixels, on whole device
 * pixels. Texts are cached as pictures unless `passing`: shaping text on a canvas takes longer than
 * everything else that is drawn in a frame.
 */
export function write(
  ctx: Context,
  text: string,
  x: number,
  y: number,
  style: Style,
  align: 'left' | 'right' = 'left',
  passing = false,
): void {
  if (text === '') return
  const ratio = window.devicePixelRatio || 1
  const { canvas, width, height } = passing
    ? draw((scratch ??= new OffscreenCanvas(1, 1)), text, style, ratio)
    : pictureOf(text, style, ratio)
  const onScreen = (at: number) => Math.round(at * ratio) / ratio
  ctx.drawImage(
    canvas,
    onScreen(align === 'left' ? x - PAD : x - widthOf(text, style) - PAD),
    onScreen(y - height / 2),
    width,
    height,
  )
}
