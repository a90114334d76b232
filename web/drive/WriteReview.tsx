import type { DriveData } from '@kavrid/contract';
import { Alert, Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useShownRaw } from './useShownRaw.ts';

/** What would be written, in its order: nothing else is. */
export function WriteReview({ driveData }: { readonly driveData: DriveData }) {
  const { procedure } = driveData;
  return (
    <>
      {procedure.target !== 'plan' && (
        <Alert severity="warning" sx={{ py: 0 }}>
          Values of {procedure.target.label}, not of the plan.
        </Alert>
      )}
      {procedure.toWrite.length > 0 && <ToWrite driveData={driveData} />}
    </>
  );
}

function ToWrite({ driveData: { procedure, comparisons } }: { readonly driveData: DriveData }) {
  const show = useShownRaw();
  return (
    <Box sx={{ maxHeight: 190, overflow: 'auto' }} tabIndex={0} role="region" aria-label="To be written, in this order">
      <Table size="small" stickyHeader sx={{ '& td, & th': { fontSize: 12, px: 0.5, py: 0.25, lineHeight: 1.3 } }}>
        <TableHead>
          <TableRow>
            {['To be written, in this order', 'Now', 'New'].map((title) => (
              <TableCell key={title}>{title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {procedure.toWrite.map(({ key, from, to }) => {
            const parameter = comparisons.find((each) => each.parameter.key === key)?.parameter;
            return (
              parameter && (
                <TableRow key={key}>
                  <TableCell>{parameter.label}</TableCell>
                  <TableCell>{show(parameter, from)}</TableCell>
                  <TableCell sx={{ fontWeight: 600 }}>{show(parameter, to)}</TableCell>
                </TableRow>
              )
            );
          })}
        </TableBody>
      </Table>
    </Box>
  );
}

/** A writing that did not come to its end: what has been done, what has not, and the ways on. */
export function WriteFailure(props: {
  readonly driveData: DriveData;
  readonly canAct: boolean;
  readonly goOn: () => void;
  /** To which snapshot, and how; undefined: none was kept. */
  readonly goBack: { readonly takenAt: string; readonly go: () => void } | undefined;
}) {
  const { driveData, canAct, goOn, goBack } = props;
  const { because, written, toWrite, inDoubt, isStored } = driveData.procedure;
  const labelOf = (key: string) =>
    driveData.comparisons.find(({ parameter }) => parameter.key === key)?.parameter.label ?? key;
  const left = toWrite.map(({ key }) => key).filter((key) => key !== inDoubt);
  const hasBegun = written.length > 0 || inDoubt !== undefined;
  const lines = [
    [isStored ? 'Written' : 'Written, but not stored: lost at the next restart', written],
    ['Sent, but not confirmed by the drive', inDoubt === undefined ? [] : [inDoubt]],
    ['Not written', hasBegun ? left : []],
  ] as const;
  return (
    <>
      <Alert severity="error">{asSentence(because)}</Alert>
      {hasBegun && (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <Button size="small" variant="outlined" disabled={!canAct} onClick={goOn}>
            Read again and continue
          </Button>
          {goBack && (
            <Button size="small" variant="outlined" disabled={!canAct} onClick={goBack.go}>
              Go back to the snapshot of {new Date(goBack.takenAt).toLocaleTimeString()}
            </Button>
          )}
        </Box>
      )}
      {lines.map(
        ([title, keys]) =>
          keys.length > 0 && (
            <Typography key={title} variant="body2">
              {title}: {keys.map(labelOf).join(', ')}.
            </Typography>
          ),
      )}
    </>
  );
}

const asSentence = (text = 'It failed'): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!?]$/.test(text) ? '' : '.'}`;
