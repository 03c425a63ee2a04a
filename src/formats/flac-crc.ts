const crcTable = (polynomial: number, width: 8 | 16) =>
  Uint16Array.from({ length: 256 }, (_, n) => {
    let crc = n << (width - 8)
    for (let k = 0; k < 8; k++)
      crc =
        crc & (1 << (width - 1))
          ? ((crc << 1) ^ polynomial) & (2 ** width - 1)
          : (crc << 1) & (2 ** width - 1)
    return crc
  })

const CRC8 = crcTable(0x07, 8)
const CRC16 = crcTable(0x8005, 16)

/** The checksum of a frame's head (RFC 9639, 9.1.8) over the bytes `from` ≤ i < `to`. */
export function crc8(bytes: Uint8Array, from = 0, to = bytes.length): number {
  let crc = 0
  for (let i = from; i < to; i++) crc = CRC8[crc ^ bytes[i]!]!
  return crc
}

/** The checksum of a whole frame (RFC 9639, 9.3) over the bytes `from` ≤ i < `to`. */
export function crc16(bytes: Uint8Array, from = 0, to = bytes.length): number {
  let crc = 0
  for (let i = from; i < to; i++) crc = ((crc << 8) & 0xffff) ^ CRC16[(crc >>> 8) ^ bytes[i]!]!
  return crc
}
