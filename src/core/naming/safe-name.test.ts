import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NameRegister, portableName, portablePrefix } from './safe-name';

describe('portableName', () => {
  it.each([
    ['A001_C001.mov', 'A001_C001.mov'],
    ['Fine cut v7 · pulled', 'Fine cut v7 · pulled'],
    ['take 3/4: "bell"?.mov', 'take 3_4_ _bell__.mov'],
    ['-rf', '_rf'],
    ['..', '_'],
    ['.hidden', '_hidden'],
    ['CON.mov', '_CON.mov'],
    ['name. ', 'name'],
    ['50% slow.mov', '50_ slow.mov'],
    ['', 'unnamed'],
    ['a\u202egpj.mov', 'a_gpj.mov'],
  ])('%j becomes %j', (name, safe) => expect(portableName(name)).toBe(safe));

  it('is always portable, short and stable', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
        const safe = portableName(name);
        expect(safe).not.toMatch(/[<>:"/\\|?*%]|^[-. ]|[. ]$/);
        expect(new TextEncoder().encode(safe).length).toBeLessThanOrEqual(200);
        expect(portableName(safe)).toBe(safe);
      }),
    );
  });
});

it.each([
  ['pour.', 'pour.'],
  ['', ''],
  ['po:ur 50%_', 'po_ur 50__'],
  ['-take.', '_take.'],
  ['COM', '_COM'],
])('portablePrefix(%j) is %j', (prefix, safe) => expect(portablePrefix(prefix)).toBe(safe));

describe('NameRegister', () => {
  it('knows names that differ only in how capitals are written', () => {
    const names = new NameRegister();
    const claimed = ['Straße.mov', 'STRASSE.mov', 'οδος.mov', 'ΟΔΟΣ.mov'].map((name) => names.claim('', name));
    expect(claimed).toEqual(['Straße.mov', 'STRASSE_2.mov', 'οδος.mov', 'ΟΔΟΣ_2.mov']);
  });

  it('keeps to 200 bytes with a number too, and ends no name in a dot or a blank', () => {
    const names = new NameRegister();
    const long = `${'鐘'.repeat(80)}.mov`;
    const claimed = Array.from({ length: 120 }, () => names.claim('', long));
    expect(new Set(claimed).size).toBe(120);
    for (const name of claimed) expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(200);
    expect(portableName(`${'a'.repeat(199)} b`)).toBe('a'.repeat(199));
  });

  it('gives 20,000 equal names, each once', () => {
    const names = new NameRegister();
    for (let index = 0; index < 20_000; index++) names.claim('media', 'a.mov');
    expect(names.claim('media', 'a.mov')).toBe('media/a_20001.mov');
  });

  it('never gives a name twice, letter case folded', () => {
    const names = new NameRegister(['media/a.mov']);
    expect([names.claim('media', 'A.mov'), names.claim('media', 'a.MOV'), names.claim('other', 'a.mov')]).toEqual([
      'media/A_2.mov',
      'media/a_3.MOV',
      'other/a.mov',
    ]);
  });
});
