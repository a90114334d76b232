import { edgeActions } from '@kavrid/core/signal';
import { Box, Button } from '@mui/material';
import { useEdit } from '../member/memberContext.ts';
import { Pair } from '../ui/fieldParts.tsx';
import { TextLine } from '../member/TextLine.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { useChoiceCommand } from './useChoiceCommand.ts';

/** What edges of inputs do of themselves. */
export function EdgeFields() {
  const { typed } = useChoiceCommand();
  const edit = useEdit();
  return (
    <Box sx={{ display: 'grid', gap: 1.5, pt: 0.5 }}>
      {typed.edges.map((edge, index) => (
        <Pair key={index}>
          <TextLine
            label={`Input of edge ${index + 1}`}
            path={['command', 'edges', index, 'input']}
            value={edge.input}
          />
          <DocumentChoice
            label={`Edge ${index + 1}`}
            value={edge.edge}
            choices={[
              { value: 'rising', label: 'rising' },
              { value: 'falling', label: 'falling' },
            ]}
            path={['command', 'edges', index, 'edge']}
          />
          <DocumentChoice
            label={`Edge ${index + 1} does`}
            value={edge.action}
            choices={edgeActions.map((value) => ({ value, label: value }))}
            path={['command', 'edges', index, 'action']}
          />
          <Button
            color="error"
            aria-label={`Remove edge ${index + 1}`}
            onClick={() =>
              edit(
                ['command', 'edges'],
                typed.edges.filter((_, k) => k !== index),
              )
            }
          >
            Remove
          </Button>
        </Pair>
      ))}
      <Button
        onClick={() =>
          edit(['command', 'edges'], [...typed.edges, { input: '', edge: 'rising', action: 'start the picked move' }])
        }
      >
        Add an edge
      </Button>
    </Box>
  );
}
