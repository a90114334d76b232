/**
 * Makes something with the id that was asked for, once: asked again, as after a lost answer, it gives what was made then.
 * @param made what has that id by now
 */
export async function madeOnce<T>(
  id: string | undefined,
  made: (id: string) => Promise<T | undefined>,
  make: () => Promise<T>,
): Promise<T> {
  const before = id === undefined ? undefined : await made(id);
  if (before) return before;
  try {
    return await make();
  } catch (error) {
    // Two that asked at once: one of them made it.
    const other = id === undefined ? undefined : await made(id);
    if (other) return other;
    throw error;
  }
}
