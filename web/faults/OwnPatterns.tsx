import { skipToken } from '@reduxjs/toolkit/query';
import { useAxis } from '../member/useAxis.ts';
import { useReadEntryQuery } from '../store/api.ts';

/** What lamps and display of this very drive say, from its library entry; nothing where it has none. */
export function OwnPatterns() {
  const { document } = useAxis();
  const { data } = useReadEntryQuery(document.drive.entry?.id ?? skipToken);
  if (data?.item.shelf !== 'drive') return null;
  const { lamps, displays, alarms } = data.item.entry;
  const rows = [
    ...lamps.map(({ pattern, meaning }) => [pattern, meaning] as const),
    ...displays.map(({ shows, meaning }) => [shows, meaning] as const),
    ...alarms
      .filter(({ code }) => !displays.some(({ shows }) => shows === code))
      .map((each) => [each.code, each.meaning] as const),
  ];
  if (rows.length === 0) return null;
  return (
    <details className="how">
      <summary>Display patterns of this drive</summary>
      <dl style={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 10, margin: '4px 0' }}>
        {rows.map(([pattern, meaning]) => [
          <dt key={`${pattern} is`}>{pattern}</dt>,
          <dd key={`${pattern} means`} style={{ margin: 0 }}>
            {meaning}
          </dd>,
        ])}
      </dl>
    </details>
  );
}
