/** CRC-16 of Modbus (Serial Line V1.02, 6.2.2): polynomial 0xA001 reflected, from 0xFFFF. */
export function crc16(bytes: Iterable<number>): number {
  let crc = 0xffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >> 1) ^ 0xa001 : crc >> 1;
  }
  return crc;
}
