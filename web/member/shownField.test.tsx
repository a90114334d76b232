import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { ChainView } from '../chain/ChainView.tsx';
import { MemberFrame } from './MemberFrame.tsx';
import { axisPlace } from './axisPlaces.ts';
import { spindlePlace } from './spindlePlaces.ts';
import { axisRecord, demoAxes, demoAxis, show } from '../test/screen.tsx';

const frame = (
  <>
    <MemberFrame steps={() => null} />
    <main>
      <ChainView />
    </main>
  </>
);
HTMLElement.prototype.scrollIntoView = () => undefined;

describe('a field that an address names', () => {
  it('is shown at its station, with the focus', async () => {
    show(frame, { axis: axisRecord(), at: '/?at=stage-1#/stages/1/pitch' });
    await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText('Belt pitch')));
  });

  it('that is not there gives way to what it is within; what cannot be read is passed over', async () => {
    show(frame, { axis: axisRecord(), at: '/?at=stage-1#/stages/1/none/such' });
    await waitFor(() => expect(document.activeElement?.closest('[data-field^="/stages/1"]')).toBeTruthy());
    show(frame, { axis: axisRecord(), at: '/?at=nonsense#%' });
    expect(screen.getAllByLabelText('Chain')).toHaveLength(2);
  });
});

describe('places of fields', () => {
  it.each([
    ['/gear/numerator', 'Plates and scaling › Drive'],
    ['/stages/1/pitch', 'Plates and scaling › Belt'],
    ['/stages/7', 'Plates and scaling › Motor'],
    ['/cable/shield', 'Signals › Levels and cable'],
    ['/protection/limits/plusInputAt', 'Signals › Direction'],
    ['/settings/torqueLimit', 'Planned values'],
    ['/testMove/speed', 'Jog, home, test moves'],
    ['/nothing/known', 'Plates and scaling › Drive'],
  ])('%s is under %s', (path, words) => {
    expect(axisPlace(demoAxis, path).words).toBe(words);
  });

  it('a cable that carries no pulses has a page of its own', () => {
    const analog = demoAxes.find(({ command }) => command.kind === 'analog');
    expect(analog && axisPlace(analog, '/cable/shield').words).toBe('Signals › Cable');
  });

  it.each([
    ['/settings/rampUp', 'Ramps and braking'],
    ['/settings/boost', 'Connection and curve'],
    ['/bus/timeOut', 'Command and interlocks'],
    ['/motor/poles', 'Plates and scaling › Motor'],
    ['/wanted/speed', 'Plates and scaling › Speed command'],
  ])('of a spindle, %s is under %s', (path, words) => {
    expect(spindlePlace(path).words).toBe(words);
  });
});
