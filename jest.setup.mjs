import fc from 'fast-check'

// The same examples each time, so that a run says something about the change that was made; `npm run endure unit` takes others. What
// fails is made smaller for two minutes at most, not for as long as it takes, and tells its seed and example.
fc.configureGlobal({
  interruptAfterTimeLimit: 120_000,
  markInterruptAsFailure: true,
  ...(process.env.ENDURE === '1' ? {} : { seed: 20_260 }),
})

// What is not plain data in the store fails the test that put it there, not only a line of its output.
const { error } = console
Object.assign(console, {
  error(first, ...rest) {
    if (String(first).includes('non-serializable value')) throw new Error(String(first), { cause: rest })
    error(first, ...rest)
  },
})
