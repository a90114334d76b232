import type { GuideState } from '@kavrid/contract';
import { Box, Typography } from '@mui/material';

/** What the failed steps point at, with the value or wire to change. */
export function FaultList({ faults }: { readonly faults: GuideState['faults'] }) {
  return (
    <Box
      component="ol"
      sx={{ m: 0, pl: faults.length > 1 ? 2.5 : 0, listStyle: faults.length > 1 ? undefined : 'none' }}
    >
      {faults.map(({ causes, others }) => (
        <Box component="li" key={causes[0]?.id} sx={{ mb: 0.75 }}>
          {causes.length > 1 && (
            <Typography variant="body2" color="text.secondary">
              One of these causes. The steps done so far do not distinguish them:
            </Typography>
          )}
          {causes.map(({ id, title, remedy, because }) => (
            <Box key={id} sx={{ mb: 0.5 }}>
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                {title}
              </Typography>
              <Typography variant="body2">{remedy}</Typography>
              <Typography variant="body2" color="text.secondary">
                Shown by: {because.join(', ')}
              </Typography>
            </Box>
          ))}
          {others.length > 0 && (
            <Typography variant="body2" color="text.secondary">
              Less likely: {others.join('; ')}
            </Typography>
          )}
        </Box>
      ))}
    </Box>
  );
}
