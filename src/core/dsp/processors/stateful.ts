/** Something that remembers numbers, which can be kept and put back. What is made of several is saved one behind another. */
export interface Stateful {
  /** How many numbers `save` writes. */
  readonly scalars: number
  /** Writes its numbers from an index on. */
  save(into: Float64Array, at: number): void
  /** Takes it back to what was saved. */
  restore(from: Float64Array, at: number): void
  /** Forgets everything. */
  reset(): void
}

/** The numbers that parts write together. */
export const scalarsOf = (parts: readonly Stateful[]): number =>
  parts.reduce((sum, { scalars }) => sum + scalars, 0)

/** Writes the numbers of parts from an index on. Returns the index after them. */
export function saveState(parts: readonly Stateful[], into: Float64Array, at: number): number {
  for (const part of parts) {
    part.save(into, at)
    at += part.scalars
  }
  return at
}

/** Takes parts back to what `saveState` wrote. */
export function restoreState(parts: readonly Stateful[], from: Float64Array, at: number): void {
  for (const part of parts) {
    part.restore(from, at)
    at += part.scalars
  }
}

export function resetState(parts: readonly Stateful[]): void {
  for (const part of parts) part.reset()
}

/** An array of numbers; what is saved and restored is all of it. Empty it holds zeros. */
export class StateArray implements Stateful {
  constructor(private readonly values: Float64Array | Float32Array) {}

  get scalars(): number {
    return this.values.length
  }

  save(into: Float64Array, at: number): void {
    into.set(this.values, at)
  }

  restore(from: Float64Array, at: number): void {
    const { values } = this
    for (let n = 0; n < values.length; n++) values[n] = from[at + n]!
  }

  reset(): void {
    this.values.fill(0)
  }
}

/** Numbers by their names. */
export class StateNumbers<K extends string> implements Stateful {
  readonly values: Record<K, number>
  private readonly names: readonly K[]

  /** `empty` are the values of what remembers nothing. */
  constructor(private readonly empty: Readonly<Record<K, number>>) {
    this.values = { ...empty }
    this.names = Object.keys(empty) as K[]
  }

  get scalars(): number {
    return this.names.length
  }

  save(into: Float64Array, at: number): void {
    for (let n = 0; n < this.names.length; n++) into[at + n] = this.values[this.names[n]!]
  }

  restore(from: Float64Array, at: number): void {
    for (let n = 0; n < this.names.length; n++) this.values[this.names[n]!] = from[at + n]!
  }

  reset(): void {
    Object.assign(this.values, this.empty)
  }
}
