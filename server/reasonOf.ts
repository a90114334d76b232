/** What an error says, whatever was thrown: the Modbus package throws plain objects for silence. */
export function reasonOf(error: unknown): string {
  if (typeof error === 'object' && error !== null && 'message' in error && typeof error.message === 'string')
    return error.message;
  return String(error);
}
