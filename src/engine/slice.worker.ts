import { storeCache, soundsOf } from './audio-store'
import { SliceRender, type SliceMessage, type SliceReply } from './slice-render'

const buffersOf = (reply: SliceReply): ArrayBuffer[] =>
  reply.type === 'frames'
    ? [reply.left.buffer, reply.right.buffer]
    : reply.type === 'chains'
      ? reply.slices.flatMap(([, slice]) => slice.sides.map((side) => side.buffer))
      : []

let queue: Promise<unknown> = Promise.resolve()
let work: SliceRender | null = null

async function handle(message: SliceMessage): Promise<void> {
  if (message.type === 'begin') {
    const cache = storeCache()
    cache.setSources(await soundsOf(message.render.session.sources))
    work = new SliceRender(message.render, message.part, cache, (insertId) =>
      postMessage({ type: 'fault', insertId } satisfies SliceReply),
    )
    return
  }
  const reply = await (message.type === 'frames'
    ? work!.frames(message.at, message.count)
    : work!.nextChains(message.count))
  postMessage(reply, { transfer: buffersOf(reply) })
}

self.onmessage = ({ data }: MessageEvent<SliceMessage>) => {
  queue = queue
    .then(() => handle(data))
    .catch((error: unknown) =>
      postMessage({
        type: 'failed',
        message: error instanceof Error ? error.message : String(error),
      } satisfies SliceReply),
    )
}
