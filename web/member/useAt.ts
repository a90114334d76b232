import { useSearchParams } from 'react-router';

/** What is open on a page, such as a station or a topic; it stands in the address, so that findings lead to it. */
export function useAt(): readonly [string | undefined, (at: string) => void] {
  const [search, setSearch] = useSearchParams();
  return [search.get('at') ?? undefined, (at) => setSearch({ at }, { replace: true })];
}
