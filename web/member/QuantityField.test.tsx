import { act, cleanup, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { edited, undone } from '../store/drafts.ts';
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
    ['5 kg', 'cannot be used here'],
    ['-3', 'Must be more than 0'],
    ['1e30', 'at most 10000000'],
    ['3 parsec', 'is not a known unit'],
    ['2,000 parsec', 'is not a known unit'],
  ])(
    'says what is wrong with “%s”, keeps the text and the last value, and takes the next one',
    async (typed, words) => {
      const { user, draft } = open();
      await user.clear(field('Wanted speed'));
      await user.type(field('Wanted speed'), typed);
      await user.tab();
      const stands = () => {
        expect(field('Wanted speed').value).toBe(typed);
        expect(screen.getByText(new RegExp(words)).textContent).toContain('1500 mm/s is kept until then');
      };
      stands();
      // Nothing that came about while it was typed: not 5 of “5 kg”, nor 5000 of “5 k”.
      expect(draft().document).toMatchObject({ wanted: { speed: 1500 }, unread: { '/wanted/speed': typed } });
      cleanup();
      const again = show(<NumberField label="Wanted speed" path={['wanted', 'speed']} rule="speed" />, {
        axis: axisRecord(2, draft().document),
      });
      stands();
      await again.user.clear(field('Wanted speed'));
      await again.user.type(field('Wanted speed'), '800');
      expect(again.draft().document).toMatchObject({ wanted: { speed: 800 }, unread: {} });
      act(() => void again.store.dispatch(undone('a')));
      expect(again.draft().document.wanted.speed).toBe(1500);
    },
  );

  it('reads what could be read two ways as the locale writes it, and says so', async () => {
    const { user, draft } = open();
    await user.clear(field('Wanted speed'));
    await user.type(field('Wanted speed'), '1,000');
    expect(screen.getByText('read as 1000')).toBeTruthy();
    expect(draft().document.wanted.speed).toBe(1000);
    const german = vi.spyOn(Intl, 'NumberFormat').mockImplementation(function () {
      return { formatToParts: () => [{ type: 'decimal', value: ',' }] } as unknown as Intl.NumberFormat;
    });
    await user.clear(field('Wanted speed'));
    await user.type(field('Wanted speed'), '1.500');
    expect(screen.getByText(/can be read as 1.500 or as 1500. Enter one of these/)).toBeTruthy();
    german.mockRestore();
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
    await user.tab();
    await user.clear(field('Belt pitch'));
    await user.type(field('Belt pitch'), 'wide');
    expect(draft().document.stages[1]).toMatchObject({ pitch: '0.2 in' });
    expect(draft().document.unread).toEqual({ '/stages/1/pitch': 'wide' });
    expect(screen.getByText(/is not a number/).textContent).toContain('0.2 in is kept until then');
    // With its stage goes what was typed into it.
    act(
      () =>
        void store.dispatch(edited({ memberId: 'a', path: ['stages'], value: draft().document.stages.slice(0, 1) })),
    );
    expect(draft().document.unread).toEqual({});
  });
});
