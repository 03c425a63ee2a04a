import { storeCache, soundsOf } from '../storage'
import { SliceRender, StripRender, type SliceMessage, type SliceReply } from './slice-render'

let queue: Promise<unknown> = Promise.resolve()
let slices: SliceRender | null = null
let strips: StripRender | null = null

async function handle(message: SliceMessage): Promise<SliceReply> {
  switch (message.type) {
    case 'begin': {
      const { render, part } = message
      const cache = storeCache()
      cache.setSources(await soundsOf(render.session.sources))
      const onFault = (insertId: string) => postMessage({ type: 'fault', insertId } satisfies SliceReply)
      if (part) strips = new StripRender(render, part, cache, onFault)
      else slices = new SliceRender(render, cache, onFault)
      return { type: 'begun', first: strips?.first ?? render.start }
    }
    case 'frames':
      return slices!.frames(message.at, message.count)
    case 'next':
      return strips!.next()
  }
}

self.onmessage = ({ data }: MessageEvent<SliceMessage>) => {
  queue = queue
    .then(() => handle(data))
    .then((reply) =>
      postMessage(reply, {
        transfer: reply.type === 'frames' ? [reply.left.buffer, reply.right.buffer] : [],
      }),
    )
    .catch((error: unknown) =>
      postMessage({
        type: 'failed',
        message: error instanceof Error ? error.message : String(error),
      } satisfies SliceReply),
    )
}
