declare module 'modbus-serial/utils/crc16.js' {
  export default function crc16(bytes: Uint8Array): number;
}
