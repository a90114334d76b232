/** What can be wrong with the replies of a unit. */
export interface ReplyTrouble {
  isSilent: boolean;
  /** Of so many replies one is dropped, or loses its last byte; 0: none. */
  dropsOneOf: number;
  shortensOneOf: number;
  /** ms */
  delay: number;
  isDoubled: boolean;
}

export const noTrouble = (): ReplyTrouble => ({
  isSilent: false,
  dropsOneOf: 0,
  shortensOneOf: 0,
  delay: 0,
  isDoubled: false,
});

/**
 * What leaves of a reply.
 * @param count of the reply, from 1
 * @returns its frames, and after how many ms they go
 */
export function troubledReply(
  { isSilent, dropsOneOf, shortensOneOf, delay, isDoubled }: ReplyTrouble,
  frame: Uint8Array,
  count: number,
): { readonly frames: readonly Uint8Array[]; readonly delay: number } {
  if (isSilent || (dropsOneOf > 0 && count % dropsOneOf === 0)) return { frames: [], delay: 0 };
  const sent = shortensOneOf > 0 && count % shortensOneOf === 0 ? frame.subarray(0, -1) : frame;
  return { frames: isDoubled ? [sent, sent] : [sent], delay };
}
