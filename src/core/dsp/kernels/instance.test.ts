import { newInstance } from './instance'
import { newStripKernel } from './strip'
import { STRIP_WASM } from './strip-wasm'

test('where there is no room for another memory, the plain form does the work', () => {
  const real = WebAssembly.Instance
  expect(newInstance(STRIP_WASM)).not.toBeNull()
  try {
    WebAssembly.Instance = class {
      constructor() {
        throw new RangeError(
          'WebAssembly.Instance(): Out of memory: Cannot allocate Wasm memory for new instance',
        )
      }
    } as unknown as typeof WebAssembly.Instance
    expect(newInstance(STRIP_WASM)).toBeNull()
    const { mix } = newStripKernel()
    mix[0].fill(1)
    expect(mix[0][100]).toBe(1)
  } finally {
    WebAssembly.Instance = real
  }
})
