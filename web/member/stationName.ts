import { stageName } from '@kavrid/contract';
import type { Station } from '@kavrid/core/chain';

export function stationName(station: Pick<Station, 'kind' | 'stage'>): string {
  switch (station.kind) {
    case 'controller':
      return 'Controller';
    case 'drive':
      return 'Drive';
    case 'motor':
      return 'Motor';
    case 'stage':
      return station.stage ? stageName(station.stage) : 'Stage';
    case 'load':
      return 'Load';
  }
}
