import fc from 'fast-check'

// A property that fails is made smaller for two minutes at most, not for as long as it takes.
fc.configureGlobal({ interruptAfterTimeLimit: 120_000, markInterruptAsFailure: true })
