import { clamp } from '../units/clamp'
import { run, setup } from '../dsp/processors/run.test-util'
import { seededRandom } from '../units/random'
import { judge, typedTarget } from './target'
import { TruePeakMeter } from './true-peak'

test('what a ceiling lets through passes a target with that true peak, however hot and white it was', () => {
  const random = seededRandom(7)
  const noise = () => random() + random() + random() + random() - 2
  const sounds: Record<string, (i: number) => number> = {
    'clipped noise': () => clamp(8 * noise(), -1, 1),
    'white noise': () => noise(),
    'random squares': () => (random() < 0.5 ? -1 : 1),
    'clipped music': (i) => clamp(3 * Math.sin(i * 0.031) + 2 * Math.sin(i * 0.0977), -1, 1),
    'a high tone': (i) => 2 * Math.sin(i * 2.6),
  }
  const frames = 12_000
  for (const [name, at] of Object.entries(sounds))
    for (const lookAheadMs of [1, 5]) {
      const side = Float64Array.from({ length: frames }, (_, i) => at(i) * Math.min(1, (frames - i) / 500))
      const [out] = run(setup('ceiling', { ceilingDbtp: -1, lookAheadMs }), 'ceiling', [side])
      const meter = new TruePeakMeter()
      meter.add(Float32Array.from(out!))
      const loudness = { integrated: -23, momentaryMax: 0, shortTermMax: 0, range: 0 }
      const [, peak] = judge(typedTarget(-23, -1), { truePeak: meter.peak(), loudness })
      if (!peak!.passes) throw new Error(`${name}, ${lookAheadMs} ms: ${peak!.is}`)
    }
})
