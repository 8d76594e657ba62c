/** Destinations that only the disk knows to be none: said on the sheet, with what to do, never as an error from inside. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { readPattern, renderPattern, type Pattern } from '../../src/core/scheme/pattern';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, pullSettings } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => {
  house = makeHouse();
});
afterEach(() => house.remove());

it('a file in the place of a folder, and names that are too long, stop the plan with a sentence', async () => {
  const cut = await bringSounds(house, 'bell.wav');
  writeFileSync(join(house.vault.root, 'notes.txt'), 'x');
  const plan = (path: string, folderName: string) =>
    house.plan({ kind: 'pull', settings: pullSettings(house, cut, { destination: { shelfId: house.vault.id, path }, folderName }) });
  expect((await plan('', 'pulled')).blocked).toBeNull();
  for (const [path, name, code] of [
    ['', 'notes.txt', 'destination-is-file'],
    ['notes.txt', 'pulled', 'destination-is-file'],
    ['notes.txt/deeper', 'pulled', 'destination-is-file'],
    ['x'.repeat(300), 'pulled', 'name-too-long'],
    ['ok', 'é'.repeat(140), 'name-too-long'],
  ] as const) {
    const { blocked, steps, findings } = await plan(path, name);
    expect([code, findings[0]!.code, blocked === findings[0]!.message, steps.length]).toEqual([code, code, true, 0]);
    expect(blocked).not.toContain(house.folder);
  }
});

it('a value that is not there takes what parted it along', () => {
  const named = (text: string, values = {}) => renderPattern(readPattern(text) as Pattern, values, 1);
  expect(named('{scene|}_{original}', { original: 'bell' })).toBe('bell');
  expect(named('{original}_{scene|}', { original: 'bell' })).toBe('bell');
  expect(named('{camera|}_{scene|} {original}', { original: 'bell', camera: 'A' })).toBe('A_bell');
  // What the user wrote stays where nothing is missing.
  expect(named('__{original}..', { original: 'bell' })).toBe('__bell..');
});
