import fc from 'fast-check'

// The same examples each time, so that a run says something about the change that was made; `npm run endure unit` takes others. What
// fails is made smaller for two minutes at most, not for as long as it takes, and tells its seed and example.
fc.configureGlobal({
  interruptAfterTimeLimit: 120_000,
  markInterruptAsFailure: true,
  ...(process.env.ENDURE === '1' ? {} : { seed: 20_260 }),
})
