import { runs } from '../units/runs.test-util'
import { holdKernelsToTheirDefinition } from './both-forms.test-util'

test('whole random sessions have the bits of the plain definitions of all kernels, in any blocks and ranges', () => {
  holdKernelsToTheirDefinition(runs(20, 80))
}, 120_000)
