import { Box, GlobalStyles } from '@mui/material';
import { useMember } from '../member/memberContext.ts';
import { endTitles, tickOf, type EndState } from './useEndSheets.ts';
import { stepTitles } from './SheetTable.tsx';

/** Both sheets as they go to paper: seen by the printer only. */
export function PrintedSheets({ states }: { readonly states: readonly EndState[] }) {
  const { document } = useMember();
  const { notes, done } = document.keying;
  return (
    <>
      <GlobalStyles
        styles={{
          '#paper': { display: 'none' },
          '@media print': {
            'body > *:not(#paper), #root > *': { visibility: 'hidden' },
            '#paper': { display: 'block', visibility: 'visible', position: 'absolute', inset: '0 0 auto 0' },
            '#paper *': { visibility: 'visible' },
            '@page': { size: 'A4', margin: '14mm' },
          },
        }}
      />
      <Box id="paper" sx={paperStyles}>
        {states.map(({ end, name, rows }) => (
          <section key={end}>
            <h1>
              {document.name}: {endTitles[end]}, {name}
            </h1>
            <table>
              <thead>
                <tr>
                  <th>✓</th>
                  <th>Code</th>
                  <th>What it is</th>
                  <th>Key in</th>
                  <th>Display</th>
                  <th>Note</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr key={`${row.step}/${row.code}/${row.label}/${row.isAgain ?? false}`}>
                    <td>{done.includes(tickOf(end, row)) ? '☑' : '☐'}</td>
                    <td>{row.code === row.label ? '' : row.code}</td>
                    <td>
                      {row.step === 'value' ? '' : `${stepTitles[row.step]}: `}
                      {row.label}
                      {row.meaning && ` (${row.meaning})`}
                    </td>
                    <td>
                      <strong>{row.key ?? '—'}</strong> {row.key === undefined ? '' : row.unit}
                    </td>
                    <td>{row.shows}</td>
                    <td>{[row.note, notes[`${end}/${row.code}`]].filter(Boolean).join(' ')}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        ))}
      </Box>
    </>
  );
}

const paperStyles = {
  color: '#000',
  bgcolor: '#fff',
  fontSize: 12,
  '& h1': { fontSize: 16, m: 0, mb: 1 },
  '& section + section': { breakBefore: 'page' },
  '& table': { width: '100%', borderCollapse: 'collapse' },
  '& th, & td': { border: '1px solid #888', textAlign: 'left', padding: '3px 5px', verticalAlign: 'top' },
  '& tr': { breakInside: 'avoid' },
} as const;
