// 400 random sessions, rendered by the kernels and by their plain definitions, in any blocks and ranges: the same to the bit.
import { holdKernelsToTheirDefinition } from '../src/core/render/both-forms.test-util'

const SESSIONS = 400
const seed = Date.now() & 0x7fffffff
console.log(`kernels: ${SESSIONS} sessions, seed ${seed}`)
try {
  holdKernelsToTheirDefinition(SESSIONS, seed)
  console.log('kernels: the bits of the plain definitions, in each of them')
} catch (error) {
  console.log(error instanceof Error ? error.message : String(error))
  process.exit(1)
}
