import { newSpindle, type SpindleRecord } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Button, Link, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { commandTitles } from '../spindle/commandTitles.ts';
import { spindleComputation } from '../member/spindleComputation.ts';
import { useCreateAxisMutation } from '../store/api.ts';
import { FindingMarks } from '../ui/FindingList.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Panel } from '../ui/Panel.tsx';
import { MemberButtons } from './MemberButtons.tsx';

/** The spindles of a machine, each with what matters most of it. */
export function SpindlesPanel(props: { readonly machineId: string; readonly spindles: readonly SpindleRecord[] }) {
  const { machineId, spindles } = props;
  const [isNaming, setNaming] = useState(false);
  return (
    <Panel
      title="Spindles"
      aside={
        <Button variant="contained" onClick={() => setNaming(true)}>
          New spindle
        </Button>
      }
      style={{ marginTop: 8 }}
    >
      {spindles.length === 0 ? (
        <Typography color="text.secondary">
          No spindle yet. Add one, then enter the nameplate data of its motor and the data of its drive.
        </Typography>
      ) : (
        <Table size="small" aria-label="Spindles">
          <TableHead>
            <TableRow>
              {['Spindle', 'Command', 'Connection', 'Tool speeds', 'Limited by', 'Findings', ''].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {spindles.map((spindle) => (
              <SpindleRow key={spindle.id} spindle={spindle} />
            ))}
          </TableBody>
        </Table>
      )}
      {isNaming && <NewSpindle machineId={machineId} close={() => setNaming(false)} />}
    </Panel>
  );
}

function SpindleRow({ spindle }: { readonly spindle: SpindleRecord }) {
  const { results, findings } = spindleComputation(spindle.document);
  const range = valueOf(results.range);
  return (
    <TableRow hover>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>
        <Link component={RouterLink} to={memberPath(spindle.machineId, spindle.id, 'spindle')}>
          {spindle.document.name}
        </Link>
      </TableCell>
      <TableCell>{commandTitles[spindle.document.command.kind]}</TableCell>
      <TableCell>{valueOf(results.connection) ?? 'unknown'}</TableCell>
      <TableCell>
        {range ? `${formatNumber(range.lowest, 5)} … ${formatNumber(range.highest, 5)} rpm` : 'unknown'}
      </TableCell>
      <TableCell>{range?.highestBy.join(', ') ?? ''}</TableCell>
      <TableCell>
        <FindingMarks findings={findings} />
      </TableCell>
      <MemberButtons member={spindle} />
    </TableRow>
  );
}

function NewSpindle({ machineId, close }: { readonly machineId: string; readonly close: () => void }) {
  const [create, { error, isLoading }] = useCreateAxisMutation();
  const navigate = useNavigate();
  const submit = async (name: string) => {
    const made = await create({ machineId, document: newSpindle(name) });
    if (made.data) await navigate(memberPath(machineId, made.data.id, 'spindle'));
  };
  return (
    <NameDialog
      title="New spindle"
      submit="Create"
      error={error ? reasonOf(error) : undefined}
      busy={isLoading}
      onName={(name) => void submit(name)}
      close={close}
    />
  );
}
