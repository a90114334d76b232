import type { Working } from '@kavrid/core/sheet';
import { Box, Popover, styled, Typography } from '@mui/material';
import { memo, useState } from 'react';
import { numberFace } from './theme.ts';
import { sxOnce } from './sxOnce.ts';
import { useSteady } from './useSteady.ts';

/** A result as it is read. */
export interface ShownResult {
  readonly text: string;
  readonly unit: string;
  /** Why it is unknown. */
  readonly because?: string;
}

export interface ResultLine extends ShownResult {
  readonly symbol: string;
  readonly label: string;
  readonly isLeading: boolean;
}

/** Results in groups, each with its unit; choosing one shows how it came about. */
export function ResultList(props: {
  readonly groups: readonly { readonly title: string; readonly rows: readonly ResultLine[] }[];
  readonly workingOf: (symbol: string) => Working | undefined;
}) {
  const { groups, workingOf } = props;
  const [open, setOpen] = useState<{ readonly symbol: string; readonly at: HTMLElement }>();
  const choose = useSteady((symbol: string, at: HTMLElement) => setOpen({ symbol, at }));
  const working = open && workingOf(open.symbol);
  const reasons = new Set(groups.flatMap(({ rows }) => rows.flatMap(({ because }) => because ?? [])));
  return (
    <>
      {reasons.size > 0 && (
        <Box sx={{ borderLeft: 3, borderColor: 'warning.main', pl: 0.75, mb: 0.75 }}>
          <Typography variant="body2">Missing inputs:</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2, fontSize: 12.5, color: 'text.secondary' }}>
            {[...reasons].map((reason) => (
              <li key={reason}>{reason}</li>
            ))}
          </Box>
        </Box>
      )}
      {groups.map(
        ({ title, rows }) =>
          rows.length > 0 && (
            <Group key={title}>
              <h3>{title}</h3>
              {rows.map((row) => (
                <ResultRow key={row.symbol} {...row} open={choose} />
              ))}
            </Group>
          ),
      )}
      {open && (
        <Popover
          open
          anchorEl={open.at}
          onClose={() => setOpen(undefined)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          {working && <WorkingCard working={working} />}
        </Popover>
      )}
    </>
  );
}

/** How a result came about. */
function WorkingCard({ working }: { readonly working: Working }) {
  return (
    <Box role="dialog" aria-label={`Working of ${working.label}`} sx={{ p: 1.5, maxWidth: 460 }}>
      <Typography variant="h3">{working.label}</Typography>
      <Box
        component="dl"
        sx={{
          m: 0,
          display: 'grid',
          gridTemplateColumns: 'auto 1fr',
          columnGap: 1.5,
          fontFamily: numberFace,
          fontSize: 13,
          '& dt': { fontFamily: 'inherit', color: 'text.secondary' },
          '& dd': { m: 0, overflowWrap: 'anywhere' },
        }}
      >
        <dt>formula</dt>
        <dd>{working.expression}</dd>
        <dt>numbers</dt>
        <dd>{working.numbers}</dd>
        <dt>result</dt>
        <dd>
          {working.result} {working.unit}
        </dd>
        <dt>source</dt>
        <dd>{working.source}</dd>
      </Box>
    </Box>
  );
}

const Group = styled('div')(
  sxOnce({
    mb: 0.5,
    '& h3': {
      m: 0,
      fontSize: '0.86rem',
      fontWeight: 600,
      lineHeight: 1.5,
      color: 'text.secondary',
      borderBottom: 1,
      borderColor: 'divider',
    },
    '& button': {
      all: 'unset',
      boxSizing: 'border-box',
      cursor: 'pointer',
      display: 'grid',
      gridTemplateColumns: 'minmax(0, 1fr) auto 74px',
      columnGap: 0.75,
      width: '100%',
      alignItems: 'baseline',
      fontSize: 12.5,
      lineHeight: 1.42,
      '&:hover': { bgcolor: 'action.hover' },
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: 1 },
    },
    '& .value, & .unknown': { textAlign: 'right' },
    '& .value': { fontFamily: numberFace },
    '& .unknown, & .unit': { color: 'text.secondary' },
    '& .words': { gridTemplateColumns: 'max-content minmax(0, 1fr)' },
    '& .words .unit': { display: 'none' },
    '& .words .value': { fontFamily: 'inherit' },
    '& .leading .value': { color: 'primary.main', fontWeight: 600 },
  }),
);

/**
 * Redrawn only when what it shows has changed; plain elements, styled once, because an edit may touch
 * twenty of them between two frames.
 */
const ResultRow = memo(function ResultRow(
  props: ResultLine & { readonly open: (symbol: string, at: HTMLElement) => void },
) {
  const { symbol, label, text, unit, because, isLeading, open } = props;
  const isWords = because === undefined && unit === '' && /[a-z]{3}/.test(text);
  return (
    <button
      type="button"
      data-result={symbol}
      onClick={(event) => open(symbol, event.currentTarget)}
      title="Derivation"
      className={[isLeading ? 'leading' : '', isWords ? 'words' : ''].join(' ')}
    >
      <span>{label}</span>
      <span className={because === undefined ? 'value' : 'unknown'}>{text}</span>
      <span className="unit">{unit}</span>
    </button>
  );
});
