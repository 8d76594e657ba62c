/** Names against Microsoft's published naming rules ("Naming Files, Paths, and Namespaces"), written down here once more. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { safeName, whyRenamed, type NameLevel } from './name-level';

/** Reserved by the rules, alone or with any extension. */
const RESERVED = [
  'CON',
  'PRN',
  'AUX',
  'NUL',
  ...['COM', 'LPT'].flatMap((port) => ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '¹', '²', '³'].map((digit) => port + digit)),
];

function isWindowsName(name: string): boolean {
  const base = name.split('.')[0]!.trimEnd().toUpperCase();
  return (
    ![...name].some((sign) => '<>:"/\\|?*'.includes(sign) || sign.codePointAt(0)! < 32) &&
    !/[. ]$/.test(name) &&
    !RESERVED.includes(base) &&
    name.length > 0 &&
    name.length <= 255
  );
}

const hostile = fc.oneof(
  fc.string({ unit: 'binary', maxLength: 300 }),
  fc.string({ unit: fc.constantFrom(...'aé. :*?"<>|\\/\u0000\u0301C0N-_%'), maxLength: 40 }),
  fc.constantFrom(...RESERVED, ...RESERVED.map((name) => `${name.toLowerCase()}.mov`), 'NUL .txt', 'con.tar.gz', ' lead', 'trail. ', '...', ''),
);

describe('safeName', () => {
  it.each(['everywhere', 'plain'] as NameLevel[])('%s: Windows takes every name, none is hidden, doing it again changes nothing', (level) => {
    fc.assert(
      fc.property(hostile, (name) => {
        const safe = safeName(name, level);
        expect(isWindowsName(safe), JSON.stringify([name, safe])).toBe(true);
        expect(safe.startsWith('.')).toBe(false);
        expect(safeName(safe, level)).toBe(safe);
        if (level === 'plain') expect(safe).toMatch(/^[A-Za-z0-9._-]+$/);
      }),
      { numRuns: 1_000 },
    );
  });

  it('here: this system takes every name, and one it takes stays as it is', () => {
    fc.assert(
      fc.property(hostile, (name) => {
        const safe = safeName(name, 'here');
        expect(safe).not.toMatch(/[/\u0000]/);
        expect(safe).not.toMatch(/^\.|^$/);
        expect(new TextEncoder().encode(safe).length).toBeLessThanOrEqual(255);
        expect(safeName(safe, 'here')).toBe(safe);
      }),
      { numRuns: 1_000 },
    );
    expect(['po:ur?.wav', 'CON.mov', 'a. '].map((name) => safeName(name, 'here'))).toEqual(['po:ur?.wav', 'CON.mov', 'a. ']);
  });

  it.each([
    ['Glocke größer.wav', 'Glocke_grosser.wav'],
    ['naïve – take 3.mov', 'naive_take_3.mov'],
    ['鐘.wav', '_.wav'],
  ])('plain: %j becomes %j', (name, plain) => expect(safeName(name, 'plain')).toBe(plain));
});

it.each([
  ['po:ur.wav', 'signs'],
  ['CON.mov', 'reserved'],
  ['a.', 'at the end'],
  ['-rf', 'at the beginning'],
  ['e\u0301.wav', 'two parts'],
  ['n'.repeat(300), 'too long'],
])('why %j is another: %s', (name, word) => expect(whyRenamed(name, safeName(name, 'everywhere')).join()).toContain(word));
