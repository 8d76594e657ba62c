import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { schemeForm } from '../forms/scheme-form';
import { addFolder, canMoveInto, changeFolder, folderOfId, moveFolder, parentOfId, removeFolder, shiftFolder } from './edit-scheme';
import { OWN_SCHEMES } from './own-schemes';
import { readPattern, renderPattern, usesNumber, type Pattern } from './pattern';
import { contradiction, fitsRule, fitsWildcard, ruleWords, type SortFacts } from './rule';
import { allFolders, folderFor, schemeFindings, type Scheme, type SchemeFolder } from './scheme';
import { changeWords, folderPairs, isSameScheme } from './scheme-changes';

const FACTS: SortFacts = {
  kind: 'video',
  codec: 'prores',
  camera: 'A',
  reel: 'A001',
  scene: null,
  take: null,
  day: '2026-03-14',
  clips: [{ name: 'The pour', bin: 'Interviews/Founder', colour: 'ochre' }],
  used: true,
  name: 'A001_C001.mov',
  original: 'A001_C001.mov',
  shelfId: 'X',
};
const folder = (id: string, rule: SchemeFolder['rule'], folders: readonly SchemeFolder[] = [], name = id): SchemeFolder => ({
  id,
  name,
  rule,
  folders,
});
const scheme = (...folders: SchemeFolder[]): Scheme => ({ id: 's', name: 'S', about: '', folders, rest: 'To sort' });

describe('patterns', () => {
  const render = (text: string, number = 7) =>
    renderPattern(readPattern(text) as Pattern, { reel: 'A001', day: '2026-03-14', clip: null, bin: 'a/b' }, number);

  it.each([
    ['{day}_{reel}', '2026-03-14_A001'],
    ['{clip}', 'no clip'],
    ['{clip|loose}', 'loose'],
    ['{clip|}', ''],
    ['{bin}', 'a-b'],
    ['x{n:4}', 'x0007'],
    ['plain', 'plain'],
  ])('%j gives %j', (text, name) => expect(render(text)).toBe(name));

  it.each(['{', '}', '{day', 'a}b', '{rell}', '{n:0}', '{n:10}', '{n|x}', '{{day}}', '{}'])('%j is told to be wrong', (text) =>
    expect(readPattern(text)).toHaveProperty('problem'),
  );

  it('knows which number files', () => {
    expect(usesNumber(readPattern('{n:2}') as Pattern)).toBe(true);
    expect(usesNumber(readPattern('{reel}') as Pattern)).toBe(false);
  });
});

it('* and ? match as a plain model does', () => {
  const model = (pattern: string, text: string): boolean => {
    if (pattern === '') return text === '';
    if (pattern[0] === '*') return model(pattern.slice(1), text) || (text !== '' && model(pattern, text.slice(1)));
    return text !== '' && (pattern[0] === '?' || pattern[0] === text[0]) && model(pattern.slice(1), text.slice(1));
  };
  const letters = (signs: string, maxLength: number) => fc.array(fc.constantFrom(...signs), { maxLength }).map((list) => list.join(''));
  fc.assert(
    fc.property(letters('ab*?', 7), letters('ab', 8), (pattern, text) => {
      expect(fitsWildcard(pattern, text)).toBe(model(pattern, text));
    }),
    { numRuns: 2_000 },
  );
});

it('a pattern of stars takes no time that grows with their number', () => {
  const before = performance.now();
  expect(fitsWildcard(`${'*a'.repeat(100)}b`, 'a'.repeat(2_000))).toBe(false);
  expect(performance.now() - before).toBeLessThan(2_000);
});

describe('rules', () => {
  it.each([
    [{}, true],
    [{ kinds: ['audio' as const] }, false],
    [{ kinds: ['audio' as const, 'video' as const], codecs: ['prores'] }, true],
    [{ codecs: ['pcm'] }, false],
    [{ reels: ['a0*'] }, true],
    [{ reels: ['B*'] }, false],
    [{ bins: ['Interviews'] }, true],
    [{ bins: ['Inter'] }, false],
    [{ colours: ['brick'] }, false],
    [{ used: false }, false],
    [{ names: ['*.MOV'], days: ['2026-03-*'], cameras: ['A'], shelves: ['X'] }, true],
  ])('%j: %s', (rule, fits) => expect(fitsRule(rule, FACTS)).toBe(fits));

  it('go by the name a file came with, so that a new name leads nowhere else', () => {
    const renamed = { ...FACTS, name: '0001.mov' };
    expect(fitsRule({ names: ['A001*'] }, renamed)).toBe(true);
    expect(fitsRule({ names: ['0001*'] }, renamed)).toBe(false);
  });

  it('are told in words', () => {
    const words = (rule: SchemeFolder['rule']) => ruleWords(rule, (id) => `shelf ${id}`);
    expect(words({ kinds: ['video'], codecs: ['prores', 'dnxhd'], reels: ['?*'], used: false })).toBe(
      'video, RDD 36 or VC-3, with a reel, used by no timeline',
    );
    expect([words(null), words({}), words({ shelves: ['X'] })]).toEqual(['only what its folders take', 'everything that is left', 'from shelf X']);
  });

  it('that can never both hold are told', () => {
    expect(contradiction({ kinds: ['audio'] }, { kinds: ['video'] })).toContain('never');
    expect(contradiction({ used: true }, { used: false })).not.toBeNull();
    expect(contradiction({ kinds: ['audio', 'video'] }, { kinds: ['video'] })).toBeNull();
  });
});

describe('the folder of a file', () => {
  it('is the first from top to bottom, and the innermost of that', () => {
    const tree = [
      folder('a', { kinds: ['audio'] }),
      folder('b', null, [folder('c', { used: false }), folder('d', { kinds: ['video'] }, [folder('e', { reels: ['A*'] })])]),
      folder('f', {}),
    ];
    expect(folderFor(tree, FACTS)?.id).toBe('e');
    expect(folderFor(tree, { ...FACTS, reel: 'B001' })?.id).toBe('d');
    expect(folderFor(tree, { ...FACTS, kind: 'still' })?.id).toBe('f');
    expect(folderFor([folder('a', null, [folder('b', null)])], FACTS)).toBeNull();
  });
});

describe('findings', () => {
  const codes = (...folders: SchemeFolder[]) => schemeFindings(scheme(...folders)).map(({ code }) => code);
  it.each([
    [[folder('a', {}, [], '{rell}')], 'scheme-name'],
    [[folder('a', {}, [], '  ')], 'scheme-name'],
    [[folder('a', {}, [], '..')], 'scheme-name'],
    [[folder('a', {}, [], 'x/y')], 'scheme-name'],
    [[folder('a', { kinds: ['audio'] }, [folder('b', { kinds: ['video'] })])], 'scheme-contradiction'],
    [[folder('a', {}), folder('b', { used: true })], 'scheme-never'],
    [[folder('a', null, [], 'Sound'), folder('b', null, [], 'SOUND')], 'scheme-same-name'],
  ] as [SchemeFolder[], string][])('%j', (folders, code) => expect(codes(...folders)).toContain(code));

  it('the schemes that come along have none, and fit their own form', () => {
    for (const own of OWN_SCHEMES) {
      expect(schemeFindings(own), own.name).toEqual([]);
      expect(schemeForm.validate(own).error, own.name).toBeUndefined();
    }
  });
});

describe('changing a scheme', () => {
  const tree = scheme(folder('a', null, [folder('b', {}), folder('c', {})]), folder('d', {}));
  it('adds, changes, moves, shifts and removes', () => {
    expect(folderOfId(addFolder(tree, 'b', folder('x', null)), 'x')?.id).toBe('x');
    expect(folderOfId(changeFolder(tree, 'c', { name: 'C' }), 'c')?.name).toBe('C');
    expect(parentOfId(moveFolder(tree, 'b', 'd'), 'b')).toBe('d');
    expect(shiftFolder(tree, 'c', -1).folders[0]!.folders.map(({ id }) => id)).toEqual(['c', 'b']);
    expect(allFolders(removeFolder(tree, 'a').folders).map(({ id }) => id)).toEqual(['d']);
  });

  it('never puts a folder into itself, loses or doubles one', () => {
    expect([canMoveInto(tree, 'a', 'b'), canMoveInto(tree, 'a', 'a'), canMoveInto(tree, 'b', 'a')]).toEqual([false, false, false]);
    const ids = fc.constantFrom('a', 'b', 'c', 'd');
    fc.assert(
      fc.property(fc.array(fc.tuple(ids, fc.option(ids), fc.constantFrom(-1 as const, 1 as const)), { maxLength: 12 }), (moves) => {
        const moved = moves.reduce((own, [id, into, by]) => shiftFolder(moveFolder(own, id, into), id, by), tree);
        expect(allFolders(moved.folders).map(({ id }) => id).sort()).toEqual(['a', 'b', 'c', 'd']); // prettier-ignore
      }),
    );
  });
});

describe('what changed', () => {
  const before = scheme(folder('a', {}, [folder('b', null)]), folder('c', { kinds: ['video'] }));
  it.each([
    [changeFolder(before, 'b', { name: 'B' }), 'the name of "B"'],
    [changeFolder(before, 'c', { rule: { kinds: ['audio'] } }), 'the rule of "c"'],
    [removeFolder(before, 'a'), 'removing "a"'],
    [addFolder(before, 'c', folder('d', null)), 'the new folder "d"'],
    [moveFolder(before, 'b', 'c'), 'the place of "b"'],
    [shiftFolder(before, 'c', -1), 'the place of "a"'],
    [{ ...before, name: 'Other' }, 'the name of the scheme'],
  ])('is told in a few words', (after, words) => {
    expect(changeWords(before, after)).toBe(words);
    expect(isSameScheme(before, after)).toBe(false);
    expect(folderPairs(before, after).some(({ isSame }) => !isSame) || before.name !== after.name).toBe(true);
  });
  it('is nothing where rules only name what they ask for in another order', () => {
    const other = changeFolder(before, 'c', { rule: { names: ['x'], kinds: ['video'] } });
    expect(isSameScheme(other, changeFolder(before, 'c', { rule: { kinds: ['video'], names: ['x'] } }))).toBe(true);
    expect(isSameScheme(before, structuredClone(before))).toBe(true);
  });
});
