import { holdKernelsToTheirDefinition } from './both-forms.test-util'

test('whole random sessions have the bits of the plain definitions of all kernels, in any blocks and ranges', () => {
  holdKernelsToTheirDefinition(40)
}, 120_000)
