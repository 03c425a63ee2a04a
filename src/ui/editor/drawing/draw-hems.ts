import type { Region } from '../../../core/model/session'
import { showDb } from '../../../core/units/typed'
import { colour } from '../../look/colours'
import { widthOf, write, type Style } from '../../look/writing'
import { stamp, stamps } from '../../look/stamp'
import { HEM_HEIGHT, hemHeight, type Box } from './geometry'

/** What is to be written on a region's hem: its name, and its clip gain as it is shown. */
export interface Hem {
  region: Region
  gainDb: number
  /** The region's box, and where what is seen of its hem ends. */
  box: Box
  end: number
  /** Opacity, below 1 where the track is not heard. */
  opacity: number
  /** Whether its sound is missing. */
  missing?: boolean
}

const NAME: Style = { face: 'words', size: 12, dye: 'ink' }
const GAIN: Style = { face: 'figures', size: 11.5, dye: 'ink' }
const GAIN_UNSET: Style = { ...GAIN, dye: 'soft' }
/** The width of a character of the face for figures at this size. */
const GAIN_CHARACTER = 7.27

/** What a gain that is set stands on, so wide in pixels. */
const chip = stamps((width: number) =>
  stamp(width, HEM_HEIGHT - 2, (ctx) => {
    ctx.fillStyle = colour('linen')
    ctx.beginPath()
    ctx.roundRect(0, 0, width, HEM_HEIGHT - 2, 4)
    ctx.fill()
  }),
)

/** Writes on the hems of regions. */
export function drawHems(ctx: CanvasRenderingContext2D, hems: readonly Hem[]): void {
  ctx.save()
  for (const hem of hems) drawHem(ctx, hem)
  ctx.restore()
}

function drawHem(ctx: CanvasRenderingContext2D, { region, gainDb, box, end, opacity, missing }: Hem): void {
  const left = Math.max(box.x, 0) + 8
  const right = Math.min(box.x + box.width, end) - 8
  if (right - left < 18 || hemHeight(box.height) === 0) return
  const gain = showDb(gainDb)
  const gainWidth = gain.length * GAIN_CHARACTER
  // Where there is no room for both, a gain of 0 dB is left out first, then the name is shortened.
  const marks = [missing && 'no sound: ', region.locked && 'locked: ', region.muted && 'muted: ']
  const name = [...marks, region.name].filter(Boolean).join('')
  const tight = widthOf(name, NAME) + gainWidth + 10 > right - left
  const shown = right - left > gainWidth + 6 && !(tight && gainDb === 0)
  const room = right - left - (shown ? gainWidth + 10 : 0)
  ctx.globalAlpha = opacity
  if (room > 18) write(ctx, fitted(name, room), left, middleOf(box), NAME)
  if (!shown) return
  if (gainDb !== 0) {
    // A chip tells of a gain that is set.
    chip(gainWidth + 8)(ctx, right - gainWidth - 4, box.y + box.height - HEM_HEIGHT + 1)
  }
  write(ctx, gain, right, middleOf(box), gainDb === 0 ? GAIN_UNSET : GAIN, 'right')
}

const middleOf = (box: Box) => box.y + box.height - HEM_HEIGHT / 2 + 0.5

/** The text, shortened with an ellipsis so that it fits. */
function fitted(text: string, room: number): string {
  if (widthOf(text, NAME) <= room) return text
  let [low, high] = [0, text.length]
  while (low < high) {
    const middle = (low + high + 1) >>> 1
    if (widthOf(`${text.slice(0, middle)}…`, NAME) <= room) low = middle
    else high = middle - 1
  }
  return low === 0 ? '' : `${text.slice(0, low)}…`
}
