import { baudRates, hostSchema, serialPathSchema, type LinkDocument } from '@kavrid/contract';
import { Box, MenuItem, TextField } from '@mui/material';
import type { z } from 'zod';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { useEdit, useMember } from '../member/memberContext.ts';
import { NumberField, useUnread } from '../member/QuantityField.tsx';
import { useSerialPortsQuery } from '../store/api.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';

/** Where the drive is reached: over a network, or over a serial line. */
export function LinkFields({ disabled }: { readonly disabled: boolean }) {
  const { document } = useMember();
  const edit = useEdit();
  const { link } = document;
  const change = (kind: LinkDocument['kind']) => {
    if (kind === link.kind) return;
    edit(['link'], blankLink[kind](link));
  };
  return (
    <>
      <ChoiceField
        label="Connection"
        value={link.kind}
        disabled={disabled}
        onChange={change}
        choices={[
          { value: 'tcp', label: 'Modbus TCP' },
          { value: 'serial', label: 'Modbus RTU, serial line' },
        ]}
      />
      {link.kind === 'tcp' ? (
        <>
          <TypedText label="Host" path={['link', 'host']} value={link.host} schema={hostSchema} disabled={disabled} />
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
            <NumberField label="TCP port" path={['link', 'port']} rule="tcpPort" isRequired disabled={disabled} />
            <NumberField label="Unit" path={['link', 'unit']} rule="unitAddress" isRequired disabled={disabled} />
          </Box>
        </>
      ) : (
        <SerialFields link={link} disabled={disabled} />
      )}
    </>
  );
}

const blankLink: { readonly [Kind in LinkDocument['kind']]: (from: LinkDocument) => LinkDocument } = {
  tcp: ({ unit, profileId }) => ({ kind: 'tcp', host: '127.0.0.1', port: 502, unit, profileId }),
  // The default settings of the serial line specification, V1.02, 2.5.1.
  serial: ({ unit, profileId }) => ({
    kind: 'serial',
    path: '/dev/ttyUSB0',
    baud: 19200,
    parity: 'even',
    stopBits: 1,
    unit: Math.min(Math.max(unit, 1), 247),
    profileId,
  }),
};

function SerialFields({
  link,
  disabled,
}: {
  readonly link: Extract<LinkDocument, { kind: 'serial' }>;
  readonly disabled: boolean;
}) {
  const { data: ports = [] } = useSerialPortsQuery(undefined, { refetchOnMountOrArgChange: true });
  const edit = useEdit();
  return (
    <>
      <TypedText
        label="Serial port"
        path={['link', 'path']}
        value={link.path}
        schema={serialPathSchema}
        disabled={disabled}
      />
      {!disabled && ports.length > 0 && !ports.includes(link.path) && (
        <TextField
          select
          label="Ports of this computer"
          value=""
          onChange={({ target }) => edit(['link', 'path'], target.value)}
        >
          {ports.map((port) => (
            <MenuItem key={port} value={port} sx={{ overflowWrap: 'anywhere', whiteSpace: 'normal' }}>
              {port}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <DocumentChoice
          label="Baud rate"
          value={link.baud}
          path={['link', 'baud']}
          disabled={disabled}
          choices={baudRates.map((value) => ({ value, label: String(value) }))}
        />
        <DocumentChoice
          label="Parity"
          value={link.parity}
          path={['link', 'parity']}
          disabled={disabled}
          choices={(['none', 'even', 'odd'] as const).map((value) => ({ value, label: value }))}
        />
        <DocumentChoice
          label="Stop bits"
          value={link.stopBits}
          path={['link', 'stopBits']}
          disabled={disabled}
          choices={([1, 2] as const).map((value) => ({ value, label: String(value) }))}
        />
        <NumberField label="Unit" path={['link', 'unit']} rule="serialAddress" isRequired disabled={disabled} />
      </Box>
    </>
  );
}

/** A text as typed; what cannot be taken is kept beside the last one that could, with its reason. */
function TypedText(props: {
  readonly label: string;
  readonly path: readonly ['link', 'host'] | readonly ['link', 'path'];
  readonly value: string;
  readonly schema: z.ZodType<string>;
  readonly disabled: boolean;
}) {
  const { label, path, value, schema, disabled } = props;
  const edit = useEdit();
  const unread = useUnread(path);
  const wrong = unread.text === undefined ? undefined : schema.safeParse(unread.text).error?.issues[0]?.message;
  return (
    <TextField
      label={label}
      value={unread.text ?? value}
      disabled={disabled}
      error={wrong !== undefined}
      helperText={wrong && `${wrong} ${value} is kept until then.`}
      onChange={({ target }) => {
        if (!schema.safeParse(target.value).success) return unread.keep(target.value);
        unread.forget();
        edit(path, target.value);
      }}
    />
  );
}
