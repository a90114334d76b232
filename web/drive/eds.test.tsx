import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { show } from '../test/screen.tsx';
import { EdsDialog } from './EdsDialog.tsx';

const text = readFileSync(join(import.meta.dirname, '../../contract/test/drive.eds'), 'utf8');
const file = (content: string) => new File([content], 'drive.eds');

describe('a register map from an EDS file', () => {
  it('asks for addresses, shows where each object is, refuses what collides, and imports the rest', async () => {
    const maps: string[] = [];
    let answer: string | undefined = 'There is a map of this name.';
    const close = vi.fn();
    const onMap = (csv: string) => {
      maps.push(csv);
      return Promise.resolve(answer);
    };
    const { user } = show(<EdsDialog close={close} onMap={onMap} />);
    const dialog = within(screen.getByRole('dialog'));
    const choose = (content: string) => user.upload(dialog.getByTestId('eds-file'), file(content));
    const button = () => dialog.getByRole<HTMLButtonElement>('button', { name: 'Import the map' });
    await choose(text.replace('AccessType=rww', 'AccessType=maybe'));
    expect(await dialog.findByText(/AccessType is ro, wo/)).toBeTruthy();
    expect(dialog.queryByLabelText('Name of the map')).toBeNull();
    await choose(text);
    expect((await dialog.findByLabelText<HTMLInputElement>('Name of the map')).value).toBe('Servo with field bus');
    expect(button().disabled).toBe(true);
    const type = async (label: string, value: string) => {
      const field = dialog.getByRole('textbox', { name: label });
      await user.clear(field);
      await user.type(field, value);
    };
    const range = async (index: number, values: readonly string[]) => {
      const titles = ['From object', 'To object', 'First register', 'Registers per object', 'Registers per sub-index'];
      for (const [k, title] of titles.entries()) await type(`${title}, range ${index}`, values[k] ?? '');
    };
    await range(1, ['0x1000', '0x6fff', '0', '1', '1']);
    expect((await dialog.findAllByText(/is also that of/)).length).toBeGreaterThan(0);
    expect(button().disabled).toBe(true);
    await range(1, ['0x6000', '0x6fff', '0x4000', '8', '2']);
    const preview = () => within(dialog.getByRole('table', { name: 'Preview of the addresses' }));
    // 0x4000 + 0x40 · 8
    expect(preview().getByRole('row', { name: /0x6040 Controlword/ }).textContent).toContain('16896');
    expect(preview().getByRole('row', { name: /0x1000 Device type/ }).textContent).toContain('no range');
    expect(await dialog.findByText(/Give an address to object 0x1000/)).toBeTruthy();
    expect(button().disabled).toBe(true);
    await user.click(dialog.getByRole('button', { name: 'Add a range' }));
    await range(2, ['0x1000', '0x1fff', '0', '16', '2']);
    expect(button().disabled).toBe(false);
    await user.click(button());
    expect(await dialog.findByText('There is a map of this name.')).toBeTruthy();
    expect(close).not.toHaveBeenCalled();
    answer = undefined;
    await user.click(button());
    await vi.waitFor(() => expect(close).toHaveBeenCalled());
    expect(maps[1]).toContain('register,controlword,,,,0x6040,u16,1');
    expect(maps[1]).toContain('register,deviceType,,,,0x1000,u32,1,,,,,,0');
  });
});
