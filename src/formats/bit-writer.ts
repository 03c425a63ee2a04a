/** Writes bits, the highest first. */
export class BitWriter {
  private bytes = new Uint8Array(1 << 16)
  private length = 0
  private pending = 0
  private pendingBits = 0

  /** Appends the low `count` bits (0…32) of a non-negative integer. */
  bits(value: number, count: number): void {
    for (let left = count; left > 0;) {
      const room = 8 - this.pendingBits
      const take = Math.min(room, left)
      const part = Math.floor(value / 2 ** (left - take)) % 2 ** take
      this.pending = (this.pending << take) | part
      this.pendingBits += take
      left -= take
      if (this.pendingBits === 8) this.push(this.pending)
    }
  }
  unary(zeros: number): void {
    for (let left = zeros; left > 0; left -= 24) this.bits(0, Math.min(24, left))
    this.bits(1, 1)
  }
  signed(value: number, count: number): void {
    this.bits(value < 0 ? value + 2 ** count : value, count)
  }
  align(): void {
    if (this.pendingBits) this.bits(0, 8 - this.pendingBits)
  }
  view(): Uint8Array {
    return this.bytes.subarray(0, this.length)
  }
  private push(byte: number): void {
    if (this.length === this.bytes.length) {
      const larger = new Uint8Array(this.length * 2)
      larger.set(this.bytes)
      this.bytes = larger
    }
    this.bytes[this.length++] = byte & 255
    this.pending = 0
    this.pendingBits = 0
  }
}
