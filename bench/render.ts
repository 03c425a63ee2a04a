import { createSession, createTrack } from '../src/core/model/create'
import type { Knot, Session } from '../src/core/model/session'
import { planSession, Renderer } from '../src/core/render'

const RATE = 48000
const SECONDS = 10

/**
 * 24 stereo tracks of noise, each with clip gain, a gain thread and volume and pan automation of a knot every
 * quarter second.
 */
function busySession(): Session {
  const session = createSession('bench', 'Bench', RATE)
  const knots = (seed: number, min: number, max: number): Knot[] =>
    Array.from({ length: SECONDS * 4 }, (_, i) => ({
      frame: i * (RATE / 4),
      value: min + (max - min) * (0.5 + 0.5 * Math.sin(i * 1.7 + seed)),
      shape: 'line',
      bend: 0,
    }))
  const frames = SECONDS * RATE
  for (let t = 0; t < 24; t++) {
    const id = `t${t}`
    session.trackIds.push(id)
    session.tracks[id] = {
      ...createTrack(id, id, 2, t),
      lanes: {
        volume: { knots: knots(t, 0.3, 0.7), bypassed: false, visible: true },
        pan: { knots: knots(t + 9, -0.8, 0.8), bypassed: false, visible: true },
      },
    }
    session.sources[id] = { id, name: id, channels: 2, frames, sampleRate: RATE, sha256: '0'.repeat(64) }
    session.gainThreads[id] = { id, knots: knots(t + 3, 0.4, 0.7) }
    session.regions[id] = {
      id,
      trackId: id,
      sourceId: id,
      start: 0,
      offset: 0,
      length: frames,
      name: id,
      clipGainDb: -3,
      polarity: 1,
      reversed: false,
      muted: false,
      gainThreadId: id,
      fadeIn: null,
      fadeOut: null,
    }
  }
  return session
}

const noise = Float32Array.from({ length: SECONDS * RATE }, () => Math.random() - 0.5)
const renderer = new Renderer(planSession(busySession()), {
  read: (_id, _c, frame, count, out) => out.set(noise.subarray(frame, frame + count)),
})
const left = new Float32Array(SECONDS * RATE)
const right = new Float32Array(SECONDS * RATE)
renderer.render(0, left.subarray(0, RATE), right.subarray(0, RATE))
const begun = performance.now()
renderer.render(0, left, right)
const milliseconds = performance.now() - begun
console.log(
  JSON.stringify({
    bench: 'render',
    tracks: 24,
    what: 'stereo, clip gain, gain thread, volume and pan automation',
    seconds: SECONDS,
    milliseconds: Math.round(milliseconds),
    timesRealTime: Math.round((SECONDS * 1000) / milliseconds),
  }),
)
