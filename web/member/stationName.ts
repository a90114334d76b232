import type { Station } from '@kavrid/core/chain';

const stageNames: Readonly<Record<NonNullable<Station['stage']>, string>> = {
  direct: 'Coupling',
  gearbox: 'Gearbox',
  beltDrive: 'Belt',
  screw: 'Screw',
  worm: 'Worm gear',
  beltReduction: 'Belt reduction',
  rack: 'Rack',
  roller: 'Roller',
  wireDrum: 'Wire drum',
  rotaryTable: 'Rotary table',
  dosingHead: 'Dosing head',
  slide: 'Slide',
};

export function stationName(station: Pick<Station, 'kind' | 'stage'>): string {
  switch (station.kind) {
    case 'controller':
      return 'Controller';
    case 'drive':
      return 'Drive';
    case 'motor':
      return 'Motor';
    case 'stage':
      return station.stage ? stageNames[station.stage] : 'Stage';
    case 'load':
      return 'Load';
  }
}

export { stageNames };
