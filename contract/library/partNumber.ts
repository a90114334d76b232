/** Case, spaces and dashes are written in one way or another. */
const plain = (text: string): string => text.toUpperCase().replace(/[\s\-–_/.]/g, '');

/**
 * Whether a part number is one that an entry is ordered under.
 * @param patterns with commas between them; `?` stands for one place of the ordering code, `*` for any number of them
 * @param typed a whole part number, or its beginning
 */
export const matchesPartNumber = (patterns: string, typed: string): boolean => {
  const wanted = plain(typed);
  return wanted !== '' && patterns.split(',').some((pattern) => begins(plain(pattern), wanted));
};

/** Whether what is wanted is the beginning of something that the pattern allows. */
function begins(pattern: string, wanted: string): boolean {
  // Where in the pattern the next character may stand; a star may stand for it, or be passed.
  const passStars = (places: ReadonlySet<number>): Set<number> => {
    const all = new Set(places);
    for (const place of all) if (pattern[place] === '*') all.add(place + 1);
    return all;
  };
  let places = passStars(new Set([0]));
  for (const character of wanted) {
    const next = new Set<number>();
    for (const place of places) {
      if (pattern[place] === '*') next.add(place);
      if (pattern[place] === '?' || pattern[place] === character) next.add(place + 1);
    }
    places = passStars(next);
  }
  return pattern !== '' && places.size > 0;
}
