const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let crc = n
  for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1
  return crc
})

/**
 * The CRC-32 of bytes as ZIP archives have it (ISO 3309; polynomial 0x04c11db7, reflected); `before` is that of what came before
 * them.
 */
export function crc32(bytes: Uint8Array, before = 0): number {
  let crc = ~before
  for (let i = 0; i < bytes.length; i++) crc = TABLE[(crc ^ bytes[i]!) & 255]! ^ (crc >>> 8)
  return (crc ^ 0xffffffff) >>> 0
}
