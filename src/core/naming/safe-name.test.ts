import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NameRegister, portableName } from './safe-name';

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

describe('NameRegister', () => {
  it('never gives a name twice, letter case folded', () => {
    const names = new NameRegister(['media/a.mov']);
    expect([names.claim('media', 'A.mov'), names.claim('media', 'a.MOV'), names.claim('other', 'a.mov')]).toEqual([
      'media/A_2.mov',
      'media/a_3.MOV',
      'other/a.mov',
    ]);
  });
});
