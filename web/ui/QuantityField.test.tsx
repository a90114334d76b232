// @vitest-environment jsdom
import { act, cleanup, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { undone } from '../store/drafts.ts';
import { preferencesChanged } from '../store/preferences.ts';
import { axisRecord, show } from '../test/screen.tsx';
import { ExactField, NumberField } from './QuantityField.tsx';

const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);

describe('a field for an approximate value', () => {
  const open = () =>
    show(<NumberField label="Wanted speed" path={['wanted', 'speed']} rule="speed" />, { axis: axisRecord() });

  it('takes a number with any unit that fits, and keeps it in the unit of the axis', async () => {
    const { user, draft } = open();
    expect(field('Wanted speed').value).toBe('1500');
    for (const [typed, kept] of [
      ['60 m/min', 1000],
      ['10 in/s', 254],
      ['0,5', 0.5],
      ['', null],
    ] as const) {
      await user.clear(field('Wanted speed'));
      if (typed) await user.type(field('Wanted speed'), typed);
      expect(draft().document.wanted.speed).toBe(kept);
    }
  });

  it.each([
    ['fast', 'is not a number'],
    ['5 kg', 'cannot be given here'],
    ['-3', 'Must be more than 0'],
    ['1e30', 'at most 10000000'],
    ['3 parsec', 'is not a unit known here'],
  ])('says what is wrong with “%s”, keeps the text and counts it as not given', async (typed, words) => {
    const { user, draft } = open();
    await user.clear(field('Wanted speed'));
    await user.type(field('Wanted speed'), typed);
    expect(screen.getByText(new RegExp(words))).toBeTruthy();
    expect(draft().document.wanted.speed).toBeNull();
    await user.tab();
    expect(field('Wanted speed').value).toBe(typed);
    // Nor does a reload take it away, as long as nothing better is known.
    cleanup();
    show(<NumberField label="Wanted speed" path={['wanted', 'speed']} rule="speed" />, {
      axis: axisRecord(2, draft().document),
    });
    expect(field('Wanted speed').value).toBe(typed);
    expect(screen.getByText(new RegExp(words))).toBeTruthy();
    cleanup();
    open();
    expect(field('Wanted speed').value).toBe('1500');
  });

  it('shows inches where they are wanted, and takes a bare number so', async () => {
    const { user, store, draft } = open();
    act(() => void store.dispatch(preferencesChanged({ lengths: 'inch' })));
    expect(Number(field('Wanted speed').value)).toBeCloseTo(1500 / 25.4, 4);
    await user.clear(field('Wanted speed'));
    await user.type(field('Wanted speed'), '100');
    expect(draft().document.wanted.speed).toBe(2540);
    expect(field('Wanted speed').value).toBe('100');
  });

  it('shows what an undo brought back, though the cursor is still in it', async () => {
    const { user, store } = open();
    await user.clear(field('Wanted speed'));
    await user.type(field('Wanted speed'), '77');
    act(() => void store.dispatch(undone('a')));
    expect(field('Wanted speed').value).toBe('1500');
  });
});

describe('a field for an exact value', () => {
  it('keeps what was typed as it was typed, with the unit that was meant', async () => {
    const { user, store, draft } = show(
      <ExactField label="Belt pitch" path={['stages', 1, 'pitch']} rule="beltPitch" />,
      { axis: axisRecord() },
    );
    await user.clear(field('Belt pitch'));
    await user.type(field('Belt pitch'), '10/3');
    expect(draft().document.stages[1]).toMatchObject({ pitch: '10/3 mm' });
    act(() => void store.dispatch(preferencesChanged({ lengths: 'inch' })));
    await user.clear(field('Belt pitch'));
    await user.type(field('Belt pitch'), '0.2');
    expect(draft().document.stages[1]).toMatchObject({ pitch: '0.2 in' });
    await user.clear(field('Belt pitch'));
    await user.type(field('Belt pitch'), 'wide');
    expect(draft().document.stages[1]).toMatchObject({ pitch: 'wide' });
    expect(screen.getByText(/is not a number/)).toBeTruthy();
  });
});
