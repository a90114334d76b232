import { Box } from '@mui/material';
import { numberFace } from './theme.ts';

/** What matters most of a drive now, large enough to be read from where one stands. */
export const BigReading = (props: {
  readonly label: string;
  readonly value: string;
  readonly unit: string;
  readonly testId?: string;
}) => (
  <Box
    sx={{
      display: 'flex',
      alignItems: 'baseline',
      justifyContent: 'space-between',
      bgcolor: 'background.default',
      border: 1,
      borderColor: 'divider',
      px: 1,
    }}
  >
    <Box
      component="output"
      aria-label={props.label}
      data-testid={props.testId}
      sx={{ fontFamily: numberFace, fontSize: 26, fontWeight: 600 }}
    >
      {props.value}
    </Box>
    <span>{props.unit}</span>
  </Box>
);
