const modules = new Map<string, WebAssembly.Module | null>()

/** The module of a base 64 text, compiled once; null where the machine or its content policy has no WebAssembly with SIMD. */
function compiledModule(base64: string): WebAssembly.Module | null {
  const known = modules.get(base64)
  if (known !== undefined) return known
  let made: WebAssembly.Module | null = null
  try {
    made = new WebAssembly.Module(Uint8Array.from(atob(base64), (c) => c.charCodeAt(0)))
  } catch {
    // The plain form of the kernel does the work.
  }
  modules.set(base64, made)
  return made
}

/**
 * What an instance with a memory of its own exports; null where there is no WebAssembly with SIMD, or no room for another
 * memory: browsers keep gigabytes of addresses about each, so that some dozens fill what a page with all its workers may have.
 */
export function newInstance<Exports>(base64: string): Exports | null {
  const module = compiledModule(base64)
  if (!module) return null
  try {
    return new WebAssembly.Instance(module, { env: { abort: () => undefined } }).exports as unknown as Exports
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}
