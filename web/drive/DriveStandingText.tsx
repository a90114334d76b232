import type { DriveData } from '@kavrid/contract';
import type { DriveStanding } from '@kavrid/core/drive';
import { formatNumber } from '@kavrid/core/quantity';
import { Alert, Typography } from '@mui/material';
import type { ReactNode } from 'react';

const shownMoment = (iso: string) => new Date(iso).toLocaleString();

/** How the drive stands to the plan, by what was read of it last, and its last proof. */
export function Standing({ driveData: { standing, proof, readAt, notInMap } }: { readonly driveData: DriveData }) {
  return (
    <>
      {standingText(standing)}
      {readAt && notInMap.length > 0 && (
        <Typography variant="body2" color="warning.main">
          Not in the register map, so not known: {notInMap.join(', ')}.
        </Typography>
      )}
      {readAt && (
        <Typography variant="body2" color="text.secondary">
          Read {shownMoment(readAt)}.
        </Typography>
      )}
      {proof && (
        <Typography variant="body2" color={proof.staleBecause ? 'warning.main' : 'text.secondary'}>
          Proof of {shownMoment(proof.madeAt)}, revision {proof.revision}
          {proof.staleBecause ? `: no longer valid, because ${proof.staleBecause}.` : '.'}
        </Typography>
      )}
    </>
  );
}

function standingText(standing: DriveStanding): ReactNode {
  switch (standing.kind) {
    case 'not read':
      return null;
    case 'waiting':
      return <Alert severity="warning">{standing.because}</Alert>;
    case 'nothing planned':
      return <Typography variant="body2">Nothing is planned for this drive yet.</Typography>;
    case 'other motor':
      return (
        <Alert severity="error">
          The drive is set for a different motor:{' '}
          {standing.differing
            .map(
              ({ label, unit, drive, plate }) =>
                `${label}: ${formatNumber(drive, 8)} ${unit} in the drive, ${formatNumber(plate, 8)} on the nameplate`,
            )
            .join('; ')}
          .
        </Alert>
      );
    case 'open':
      return (
        <Typography variant="body2">
          Not proven: {standing.differing.map(({ parameter }) => parameter.label).join(', ')}.
        </Typography>
      );
    case 'proven':
      return <Alert severity="success">Every planned value is running and stored.</Alert>;
  }
}
