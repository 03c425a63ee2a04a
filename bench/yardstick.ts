import { chromium } from '@playwright/test'

/** What the browser's own offline graph renders: the equivalent of a session of moving stereo tracks. */
export interface YardstickGraph {
  tracks: number
  seconds: number
  sampleRate: number
  /** Whether four filters and a compressor stand before each fader. */
  processed: boolean
}

/** Runs in the page: renders the graph and returns the milliseconds that it took. */
async function renderGraph({ tracks, seconds, sampleRate, processed }: YardstickGraph): Promise<number> {
  const frames = seconds * sampleRate
  const context = new OfflineAudioContext(2, frames, sampleRate)
  const buffer = new AudioBuffer({ numberOfChannels: 2, length: frames, sampleRate })
  for (let c = 0; c < 2; c++) {
    const samples = buffer.getChannelData(c)
    for (let n = 0; n < frames; n++) samples[n] = Math.random() - 0.5
  }
  const moving = (parameter: AudioParam, seed: number, min: number, max: number) => {
    for (let i = 0; i < seconds * 4; i++) {
      const value = min + (max - min) * (0.5 + 0.5 * Math.sin(i * 1.7 + seed))
      if (i === 0) parameter.setValueAtTime(value, 0)
      else parameter.linearRampToValueAtTime(value, i / 4)
    }
  }
  for (let t = 0; t < tracks; t++) {
    const source = new AudioBufferSourceNode(context, { buffer })
    const clip = new GainNode(context, { gain: 10 ** (-3 / 20) })
    const thread = new GainNode(context)
    const volume = new GainNode(context)
    const pan = new StereoPannerNode(context)
    moving(thread.gain, t + 3, 0.25, 1.4)
    moving(volume.gain, t, 0.1, 1.4)
    moving(pan.pan, t + 9, -0.8, 0.8)
    let last: AudioNode = source.connect(clip).connect(thread)
    if (processed) {
      for (const frequency of [80, 400, 2500, 9000])
        last = last.connect(new BiquadFilterNode(context, { type: 'peaking', frequency, gain: 3, Q: 1 }))
      last = last.connect(new DynamicsCompressorNode(context, { threshold: -24, ratio: 4 }))
    }
    last.connect(volume).connect(pan).connect(context.destination)
    source.start()
  }
  const begun = performance.now()
  await context.startRendering()
  return performance.now() - begun
}

/** A browser in which graphs are rendered, until it is closed. */
export async function openYardstick(
  executablePath: string,
): Promise<{ milliseconds(graph: YardstickGraph): Promise<number>; close(): Promise<void> }> {
  const browser = await chromium.launch({
    executablePath,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run'],
  })
  const page = await browser.newPage()
  // A bundler's helper that the function may be compiled to use.
  await page.evaluate('globalThis.__name = (f) => f')
  return {
    milliseconds: (graph) => page.evaluate(renderGraph, graph),
    close: () => browser.close(),
  }
}
