import { testRegion, testSession } from '../model/fixture.test-util'
import { EBU_R128 } from '../measure/target'
import { reportCsv, ReportMeter, sessionReport } from './report'

const RATE = 48_000

test('a report tells DC, where left and right cancel, and which requirements are missed', () => {
  // Four seconds of a tone of -20 dBFS with an offset of -46 dBFS on the left; in the third second right is its opposite.
  const frames = 4 * RATE
  const tone = (n: number) => 0.1 * Math.sin((2 * Math.PI * 440 * n) / RATE)
  const left = Float32Array.from({ length: frames }, (_, n) => tone(n) + 0.005)
  const right = Float32Array.from(
    { length: frames },
    (_, n) => (n >= 2 * RATE && n < 3 * RATE ? -1 : 1) * tone(n),
  )
  const meter = new ReportMeter(RATE)
  for (let at = 0; at < frames; at += 10_007)
    meter.add(at, [left.subarray(at, at + 10_007), right.subarray(at, at + 10_007)])
  const report = sessionReport(testSession([testRegion('a')]), meter.finish(), [], EBU_R128)
  expect(report.dcDb[0]).toBeCloseTo(-46.02, 1)
  expect(report.dcDb[1] ?? -200).toBeLessThan(-100)
  expect(report.cancelling).toEqual([{ from: 2, to: 3, correlation: expect.closeTo(-1, 1) as number }])
  expect(report.requirements.filter(({ passes }) => !passes).map(({ what }) => what)).toEqual(['Loudness'])
  const csv = reportCsv(report)
  expect(csv).toContain('"DC offset, left",0,4,-46.02,dBFS,')
  expect(csv).toMatch(/left and right cancel,2,3,-(0\.99|1),,little is left of it in mono/)
  expect(csv).toContain('requirement: loudness')
})

test('silence between sounds moves the places of what comes after it', () => {
  const meter = new ReportMeter(RATE)
  const against = Float32Array.from({ length: RATE }, (_, n) => 0.1 * Math.sin(n / 10))
  meter.add(0, [new Float32Array(RATE), new Float32Array(RATE)])
  meter.add(RATE, [against, against.map((x) => -x)])
  expect(meter.finish().cancelling).toEqual([{ from: 1, to: 2, correlation: -1 }])
})
