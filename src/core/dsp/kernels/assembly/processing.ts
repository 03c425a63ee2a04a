// All that works on the sound of a strip before its fader, in one memory. Built by `npm run kernels`.
export * from './sound'
export * from './filter'
export * from './dynamics'
export * from './points'
export * from './repeats'
export * from './saturation'
export * from './room'
