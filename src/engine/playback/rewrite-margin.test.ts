import { RewriteMargin } from './rewrite-margin'

test('a rewrite begins so far ahead that it is done in time: the middle of the last three, and a quarter more', () => {
  const margin = new RewriteMargin('shared')
  // Nothing is known yet: 640 frames at least.
  expect(margin.frames).toBe(640)
  for (const took of [4000, 1000, 2000]) margin.noteRewrite(took)
  expect(margin.frames).toBe(1.25 * 2000 + 512)
  // The one before the last three does not count any more: 1000, 2000 and 9000 are left.
  margin.noteRewrite(9000)
  expect(margin.frames).toBe(1.25 * 2000 + 512)
})

test('as long as there were few rewrites, one is guessed by its blocks; of two the smaller one counts', () => {
  const margin = new RewriteMargin('shared')
  for (const took of [1000, 2000]) margin.noteBlock(took)
  expect(margin.block).toBe(1000)
  expect(margin.frames).toBe(Math.round(1.25 * 1.75 * 1000 + 512))
  margin.noteRewrite(800)
  expect(margin.frames).toBe(1.25 * 800 + 512)
})

test('it begins further ahead after two seeks were overtaken, and never more than 16384 frames', () => {
  const margin = new RewriteMargin('message')
  expect([margin.lead, margin.frames]).toEqual([2048, 4096])
  margin.noteSeek(true)
  expect(margin.frames).toBe(4096)
  margin.noteSeek(true)
  expect(margin.frames).toBe(6144)
  margin.noteSeek(false)
  expect(margin.frames).toBe(4096)
  for (let n = 0; n < 9; n++) margin.noteSeek(true)
  expect(margin.frames).toBe(16384)
})
