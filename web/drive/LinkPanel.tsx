import { addressText, isNearHost } from '@kavrid/core/procedure';
import { Alert, Box, Button, Typography } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { useParams } from 'react-router';
import { DriveNews } from '../member/DriveNews.tsx';
import { HoldNotice } from '../member/HoldNotice.tsx';
import { useEdit, useMember } from '../member/memberContext.ts';
import { TemporarySettings } from '../member/TemporarySettings.tsx';
import { SharedDevices } from '../machine/SharedDevices.tsx';
import { useImportProfileMutation, useMachineQuery, useProfilesQuery } from '../store/api.ts';
import { useLinkLive } from '../member/useLive.ts';
import { act, command } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FileButton } from '../ui/FileButton.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { Panel } from '../ui/Panel.tsx';
import { DriveControl } from './DriveControl.tsx';
import { LinkFields } from './LinkFields.tsx';
import { RegisterMapsDialog } from './RegisterMapsDialog.tsx';

const FindDevicesDialog = lazy(() =>
  import('./FindDevicesDialog.tsx').then((module) => ({ default: module.FindDevicesDialog })),
);
const EdsDialog = lazy(() => import('./EdsDialog.tsx').then((module) => ({ default: module.EdsDialog })));

/** Where the drive is reached, by which register map, and what it reports about itself. The address is fixed while connected. */
export function LinkPanel() {
  const { memberId, document } = useMember();
  const {
    link: standing,
    message,
    deviceState,
    device,
    pastFaults,
  } = useLinkLive((live) => ({
    link: live?.link,
    message: live?.message,
    deviceState: live?.deviceState,
    pastFaults: live?.pastFaults.join('\n') ?? '',
    device:
      live?.identity &&
      `Kind ${shown(live.identity.kind)}, firmware ${shown(live.identity.firmware)}, serial number ${live.identity.serial ?? 'not reported'}.`,
  }));
  const { data: profiles = [] } = useProfilesQuery();
  const [importProfile, { error }] = useImportProfileMutation();
  const { machineId } = useParams();
  const { data: machine } = useMachineQuery(machineId ?? '', { skip: !machineId });
  const others = machine?.axes.filter(({ id }) => id !== memberId).map(({ document: each }) => each) ?? [];
  const sharing = others.filter((each) => addressText(each.link) === addressText(document.link));
  const [managing, setManaging] = useState(false);
  const [making, setMaking] = useState(false);
  const [finding, setFinding] = useState(false);
  const edit = useEdit();
  const dispatch = useAppDispatch();
  const { link } = document;
  const up = standing === 'up';
  const off = standing === undefined || standing === 'off';
  const own = profiles.filter(({ id, kind }) => kind === document.kind || id === link.profileId);
  return (
    <Panel title="Link to the drive">
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        <ChoiceField
          label="Register map"
          value={link.profileId ?? ''}
          onChange={(value) => edit(['link', 'profileId'], value === '' ? null : value)}
          choices={[
            { value: '', label: 'none chosen' },
            ...(link.profileId !== null && !own.some(({ id }) => id === link.profileId)
              ? [{ value: link.profileId, label: 'not available here' }]
              : []),
            ...own.map(({ id, name }) => ({ value: id, label: name })),
          ]}
        />
        {off && (
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            <FileButton
              accept=".csv,text/csv"
              testId="register-map"
              onFile={(file) => {
                void file.text().then(async (csv) => {
                  const made = await importProfile(csv);
                  if (made.data) edit(['link', 'profileId'], made.data.id);
                });
              }}
            >
              Import a register map (CSV) …
            </FileButton>
            <Button size="small" onClick={() => setMaking(true)}>
              Make one from an EDS file …
            </Button>
            <Button size="small" onClick={() => setManaging(true)}>
              Manage register maps …
            </Button>
            <Button size="small" onClick={() => setFinding(true)}>
              Find devices …
            </Button>
          </Box>
        )}
        {making && (
          <Suspense fallback={null}>
            <EdsDialog
              close={() => setMaking(false)}
              onMap={async (csv) => {
                const made = await importProfile(csv);
                if (made.data) edit(['link', 'profileId'], made.data.id);
                return made.error ? reasonOf(made.error) : undefined;
              }}
            />
          </Suspense>
        )}
        {finding && (
          <Suspense fallback={null}>
            <FindDevicesDialog close={() => setFinding(false)} />
          </Suspense>
        )}
        {managing && <RegisterMapsDialog close={() => setManaging(false)} />}
        {error && (
          <Alert severity="error" sx={{ maxHeight: 200, overflow: 'auto' }}>
            {reasonOf(error)}
          </Alert>
        )}
        <LinkFields disabled={!off} />
        <SharedDevices members={[document, ...sharing]} />
        {off ? (
          <ConnectButton />
        ) : (
          <Button variant="outlined" onClick={() => dispatch(command({ type: 'disconnect' }))}>
            Disconnect
          </Button>
        )}
        <Typography role="status" variant="body2" color="text.secondary">
          {up
            ? `Connected. Drive: ${deviceState ?? 'state unknown'}.`
            : message || (standing === 'connecting' ? 'Connecting …' : 'Not connected.')}
          {up && device && (
            <>
              <br />
              {device}
            </>
          )}
        </Typography>
        {up && pastFaults !== '' && (
          <Box component="details" sx={{ fontSize: 13 }}>
            <summary>Past faults of the drive</summary>
            <Box component="ol" sx={{ m: 0, pl: 2.5 }}>
              {pastFaults.split('\n').map((fault, k) => (
                <li key={k}>{fault}</li>
              ))}
            </Box>
          </Box>
        )}
        <DriveControl />
        <Box>
          <DriveNews />
          <HoldNotice />
          <TemporarySettings />
        </Box>
      </Box>
    </Panel>
  );
}

/** Connects; an address outside this computer and private networks is asked about first. */
function ConnectButton() {
  const { memberId, document } = useMember();
  const dispatch = useAppDispatch();
  const { link } = document;
  const isFar = link.kind === 'tcp' && !isNearHost(link.host);
  const [asked, setAsked] = useState<string>();
  const isAsking = isFar && asked === addressText(link);
  const connect = () => {
    if (isFar && !isAsking) return setAsked(addressText(link));
    setAsked(undefined);
    void dispatch(
      act(memberId, (version) => ({ type: 'connect', version, ...(isFar ? { isFarConfirmed: true } : {}) })),
    );
  };
  return (
    <>
      {isAsking && link.kind === 'tcp' && (
        <Alert severity="warning">
          {link.host} is not on this computer or in a private network. A drive there can be moved by whoever reaches it.
          Connect only if you know this address.
        </Alert>
      )}
      <Button variant="contained" onClick={connect}>
        {isAsking ? `Connect to ${link.kind === 'tcp' ? link.host : ''} all the same` : 'Connect'}
      </Button>
    </>
  );
}

const shown = (value: number | undefined) =>
  value === undefined ? 'not reported' : `0x${value.toString(16).toUpperCase()}`;
