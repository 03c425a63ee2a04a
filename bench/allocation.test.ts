import v8 from 'node:v8'
import vm from 'node:vm'
import { movingSession, RATE } from './sessions'
import { planSession, Renderer } from '../src/core/render'

v8.setFlagsFromString('--expose-gc')
const collectGarbage = vm.runInNewContext('gc') as () => void

const noise = Float32Array.from({ length: RATE }, (_, i) => Math.sin(i * i))
const reader = {
  read: (_id: string, _channel: number, frame: number, count: number, out: Float32Array) => {
    for (let i = 0; i < count; i++) out[i] = noise[(frame + i) % RATE]!
  },
}

const MOST_BYTES = 24

test.each([
  ['everything moving', false],
  ['everything moving, four filters and a compressor', true],
])('%s: rendering makes no object a quantum and strip', (_what, processed) => {
  const [tracks, blocks] = [24, 20]
  const straight = { shape: 'line', bend: 0 } as const
  const renderer = new Renderer(planSession(movingSession(tracks, 10, straight, { processed })), reader)
  const [left, right] = [new Float32Array(1024), new Float32Array(1024)]
  const render = () => {
    for (let i = 0; i < blocks; i++) renderer.render(i * 1024, left, right)
  }
  for (let i = 0; i < 40; i++) render()
  // On a busy machine it takes long until all loops are compiled, and a single object a quantum would be seen in every round.
  let least = Infinity
  for (let round = 0; round < 60 && least >= MOST_BYTES; round++) {
    collectGarbage()
    const before = process.memoryUsage().heapUsed
    render()
    least = Math.min(least, (process.memoryUsage().heapUsed - before) / (blocks * 16 * tracks))
  }
  // About 20 are numbers that calls and stores put into boxes now and then; the smallest object with a field would be 24 more.
  expect(least).toBeLessThan(MOST_BYTES)
})
