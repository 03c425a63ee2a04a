import { soundsOf, storeCache } from '../storage'
import { RenderLoop, type RenderMessage } from './render-loop'

const loop = new RenderLoop({
  cache: storeCache(),
  findSounds: soundsOf,
  reply: (message) => postMessage(message),
})

onmessage = (event: MessageEvent<RenderMessage>) => void loop.receive(event.data)
