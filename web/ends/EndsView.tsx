import { unreadFields } from '@kavrid/contract';
import { Alert, Box, Button, Tab, Tabs, Typography } from '@mui/material';
import { useState } from 'react';
import { useParams } from 'react-router';
import { useMember } from '../member/memberContext.ts';
import { useMachineQuery } from '../store/api.ts';
import { numberFace } from '../ui/theme.ts';
import { Panel, windowHigh } from '../ui/Panel.tsx';
import { FoundDialog } from './FoundDialog.tsx';
import { keyInDocument } from './keyInDocument.ts';
import { SheetTable } from './SheetTable.tsx';
import { endTitles, useEndStates, type End, type EndState } from './useEndSheets.ts';

/** Both ends as one set: what is to be keyed in at controller and drive, what was found there, and what has to change. */
export function EndsView() {
  const states = useEndStates();
  const [open, setOpen] = useState<End>('controller');
  const now = states.find(({ end }) => end === open) ?? states[0];
  const unread = unreadFields(useMember().document);
  if (unread.length > 0)
    return (
      <Alert severity="error">
        The key-in sheets wait for {unread.map(({ field, text }) => `${field} (“${text}” cannot be used)`).join(', ')}.
      </Alert>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) 300px', alignItems: 'start' }}>
      <Panel
        title="Key-in sheets"
        aside={
          <Tabs value={now?.end ?? false} onChange={(_, next: End) => setOpen(next)} aria-label="Ends">
            {states.map(({ end, wrong, ticked, rows }) => (
              <Tab
                key={end}
                value={end}
                label={`${endTitles[end]}: ${ticked} of ${rows.length}`}
                sx={wrong.length > 0 ? { color: 'error.main' } : null}
              />
            ))}
          </Tabs>
        }
        style={windowHigh}
      >
        {now && <SheetTable key={now.end} state={now} />}
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <ChangesPanel states={states} />
        <SheetsPanel states={states} open={open} />
      </Box>
    </Box>
  );
}

/** What has to change at either end, as one list. */
function ChangesPanel({ states }: { readonly states: readonly EndState[] }) {
  const all = states.flatMap(({ end, wrong }) => wrong.map((each) => ({ end, ...each })));
  const compared = states.reduce((sum, { found }) => sum + Object.keys(found).length, 0);
  return (
    <Panel title="To change">
      {compared === 0 ? (
        <Typography variant="body2" color="text.secondary">
          Enter the values found at the device beside the plan, or paste them from a list; differences appear here.
        </Typography>
      ) : all.length === 0 ? (
        <Alert severity="info">
          {compared === 1 ? 'The value found is' : `All ${compared} values found are`} as planned.
        </Alert>
      ) : (
        <Box component="ol" aria-label="Changes" sx={{ m: 0, pl: 2.5, display: 'grid', gap: 0.75, fontSize: 13 }}>
          {all.map(({ end, code, label, found, planned, meaning }) => (
            <li key={`${end}/${code}`}>
              <strong>{endTitles[end]}</strong> {code === label ? '' : <code>{code}</code>} {label}:{' '}
              <Box component="span" sx={{ fontFamily: numberFace, color: 'error.main' }}>
                {found}
              </Box>{' '}
              →{' '}
              <Box component="span" sx={{ fontFamily: numberFace, fontWeight: 600 }}>
                {planned}
              </Box>
              {meaning && ` (${meaning})`}
            </li>
          ))}
        </Box>
      )}
    </Panel>
  );
}

function SheetsPanel({ states, open }: { readonly states: readonly EndState[]; readonly open: End }) {
  const { document, draft } = useMember();
  const { machineId } = useParams();
  const machine = useMachineQuery(machineId ?? '', { skip: !machineId }).data?.document.name ?? '';
  const [pasting, setPasting] = useState(false);
  const [failed, setFailed] = useState<string>();
  const make = (use: 'save' | 'print') => {
    setFailed(undefined);
    const sheets = keyInDocument(document, states, {
      machine,
      version: draft.state.kind === 'saved' ? draft.version : undefined,
      printedOn: new Date().toLocaleDateString(undefined, { dateStyle: 'long' }),
    });
    import('./keyInPdf.ts')
      .then(({ savePdf, printPdf }) =>
        use === 'print' ? printPdf(sheets) : savePdf(sheets, `${document.name || document.kind} key-in sheets.pdf`),
      )
      .catch((error: unknown) => setFailed(error instanceof Error ? error.message : 'The PDF cannot be made.'));
  };
  return (
    <Panel title="Paper and lists">
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Button variant="outlined" onClick={() => setPasting(true)}>
          Paste values found …
        </Button>
        <Button variant="outlined" onClick={() => make('print')}>
          Print both sheets
        </Button>
        <Button variant="outlined" onClick={() => make('save')}>
          Save both as PDF
        </Button>
        {failed && <Alert severity="error">{failed}</Alert>}
        <Typography variant="body2" color="text.secondary">
          Codes, units and options come from the library entry of each end; an end without an entry gets plain names.
        </Typography>
      </Box>
      {pasting && <FoundDialog states={states} start={open} close={() => setPasting(false)} />}
    </Panel>
  );
}
