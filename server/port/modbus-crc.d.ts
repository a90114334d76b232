declare module 'modbus-serial/utils/crc16.js' {
  function crc16(bytes: Uint8Array): number;
  export = crc16;
}
