import { predictionId } from '../jobs/tracePrediction.ts';

/** Colours that traces are drawn in. */
export interface TraceColours {
  readonly main: string;
  readonly prediction: string;
  readonly other: string;
}

/** How each source is drawn: the first run in petrol, its prediction dashed in brass, further runs in ink. */
export function traceLook({ main, prediction, other }: TraceColours, id: string, runIds: readonly string[]) {
  if (id === predictionId) return { colour: prediction, isDashed: runIds.length > 0 };
  const place = runIds.indexOf(id);
  return place === 0 ? { colour: main, isDashed: false } : { colour: other, isDashed: place > 1 };
}
