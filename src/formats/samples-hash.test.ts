import fc from 'fast-check'
import { SamplesHash } from './samples-hash'
import { samplesHash } from './samples-hash.test-util'

test('of no samples it is the SHA-256 of nothing', async () => {
  expect((await SamplesHash.begin()).hex()).toBe(
    'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855',
  )
})

test('it is the same in pieces of any size, of one channel and of two, while others are made', async () => {
  const samples = fc.float32Array({ noNaN: true, minLength: 1, maxLength: 3000 })
  await fc.assert(
    fc.asyncProperty(samples, fc.array(fc.nat(3000), { maxLength: 5 }), async (left, cuts) => {
      const right = left.map((x) => -x)
      const [one, two] = [await SamplesHash.begin(), await SamplesHash.begin()]
      const places = [0, ...cuts.filter((c) => c < left.length).sort((a, b) => a - b), left.length]
      for (let n = 1; n < places.length; n++) {
        const piece = (x: Float32Array) => x.subarray(places[n - 1], places[n])
        one.add([piece(left)])
        two.add([piece(left), piece(right)])
      }
      expect([one.hex(), two.hex()]).toEqual([samplesHash([left]), samplesHash([left, right])])
    }),
    { numRuns: 50 },
  )
})
