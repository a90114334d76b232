import { Box, Checkbox, FormControlLabel, FormGroup, Typography } from '@mui/material';

/** Some of a few. */
export function Several<T extends string>(props: {
  readonly label: string;
  readonly all: readonly T[];
  readonly chosen: readonly T[];
  readonly onChange: (chosen: readonly T[]) => void;
}) {
  const { label, all, chosen, onChange } = props;
  return (
    <Box role="group" aria-label={label} sx={{ mt: 1 }}>
      <Typography variant="h3">{label}</Typography>
      <FormGroup row>
        {all.map((each) => (
          <FormControlLabel
            key={each}
            control={
              <Checkbox
                size="small"
                sx={{ p: 0.5 }}
                checked={chosen.includes(each)}
                onChange={(_, checked) =>
                  onChange(all.filter((one) => (one === each ? checked : chosen.includes(one))))
                }
              />
            }
            label={each}
            sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
          />
        ))}
      </FormGroup>
    </Box>
  );
}
