import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { item, shelf, SOUND, VIDEO } from '../../../../tests/helpers/snapshots';
import { sortInput, usesOf } from '../../../../tests/helpers/sort-input';
import { sortSettings } from '../../../../tests/helpers/sort-house';
import type { Item, MediaFacts } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import type { SchemeFolder } from '../../scheme/scheme';
import type { MoveStep } from '../plan/step';
import { planSort } from './sort';
import type { SortInput } from './sort-input';
import type { SortSettings } from './settings';

const OTHER: Partial<MediaFacts> = { kind: 'other', reel: null, video: null, audio: [] };
const folder = (name: string, rule: SchemeFolder['rule'], folders: readonly SchemeFolder[] = []): SchemeFolder => ({ id: name, name, rule, folders });
const settings = (own: Partial<SortSettings> = {}, ...folders: SchemeFolder[]) =>
  sortSettings('A', { scheme: { id: 's', name: 'S', about: '', folders, rest: 'To sort' }, emptyFolders: false, ...own });
const moves = (input: SortInput, own: SortSettings) =>
  planSort(input, own).steps.flatMap((step) => (step.action === 'move' || step.action === 'copy' ? [`${step.from!.path} → ${step.to!.path}`] : []));
const codes = (input: SortInput, own: SortSettings) => planSort(input, own).findings.map(({ code }) => code);

describe('together', () => {
  it('sidecars go with their master and get its name; a paper of nobody goes by its own rule', () => {
    const items = [item('x/A001.mov'), item('x/A001M01.XML', OTHER), item('x/A001.mov.xmp', OTHER), item('x/notes.txt', OTHER)];
    const own = settings({ names: { from: 'pattern', pattern: 'take {n:2}', level: 'everywhere' } }, folder('V', { kinds: ['video'] }));
    expect(moves(sortInput(items), own)).toEqual([
      'x/A001.mov → Test/V/take 01.mov',
      'x/A001M01.XML → Test/V/take 01M01.XML',
      'x/A001.mov.xmp → Test/V/take 01.mov.xmp',
      'x/notes.txt → Test/To sort/take 01.txt',
    ]);
  });

  it('whatever bears the name of media goes with it: read or not, a thumbnail, a light movie, beside frames too', () => {
    const unread = (path: string) => item(path, OTHER, { problem: 'It cannot be read as media: Invalid data found.' });
    const small = { ...VIDEO.video!, width: 320, height: 180 };
    const sequence = { prefix: 'pour.', suffix: '.dpx', padding: 4, firstNumber: 1, lastNumber: 9, missingRuns: [] };
    const items = [
      item('x/A001.mov'),
      ...['A001.xmp', 'A001.lrv', 'A001.mhl', 'A001.cdl', 'A001.idx', 'a001.RMD', 'A001.mov.md5', 'A001.vtt', 'A001'].map((name) =>
        unread(`x/${name}`),
      ),
      item('x/A001.thm', { kind: 'still', video: small, durationFrames: null, rate: null }),
      item('x/A001.mp4', { video: small }),
      // As long as another film, or read by a clip: no light copy of it.
      item('x/A002.mov'),
      item('x/A002.mp4', { video: small, durationFrames: 500 }),
      item('x/A003.mov'),
      item('x/A003.mp4', { video: small }),
      item('s/pour.[0001-0009].dpx', { kind: 'sequence', sequence, startFrame: null, rate: null, durationFrames: 9 }),
      unread('s/pour.cdl'),
    ];
    const own = settings({}, folder('V', { kinds: ['video', 'sequence'] }), folder('S', { kinds: ['still'] }));
    const chosen = new Set(items.filter(({ place }) => /A001\.mov$|A002|A003|pour\.\[/.test(place.path)).map(({ id }) => id));
    const uses = new Map([['A\nx/A003.mp4', [{ clipId: 'c', name: 'c', bin: '', colour: '' }]]]);
    const frames = new Map([[items.find(({ facts }) => facts.sequence)!.id, Array.from({ length: 9 }, (_, index) => `1 1 1 ${index} 1`)]]);
    const input = { ...sortInput(items, { uses, frames }), chosen };
    expect(moves(input, own).filter((line) => /a001/i.test(line))).toHaveLength(12);
    expect(moves(input, own).filter((line) => !/→ Test\/V\//.test(line))).toEqual([]);
    expect(moves(input, own).filter((line) => line.includes('pour'))).toEqual(['s → Test/V/pour', 's/pour.cdl → Test/V/pour/pour.cdl']);
    // Each that is of itself is a row of its own.
    expect(planSort(input, own).detail.rows.map(({ oldName }) => oldName)).toEqual(expect.arrayContaining(['A002.mp4', 'A003.mp4', 'A002.mov']));
    const left = sortInput([...items, item('x/notes.txt', OTHER)], { uses });
    expect(planSort({ ...left, chosen }, own).findings.find(({ code }) => code === 'left-beside')?.message).toBe('notes.txt lies beside these and stays: no file of that name is sorted.'); // prettier-ignore
  });

  it('a master whose name is taken and its sidecar get the same number', () => {
    const items = [item('a/bell.mov'), item('b/bell.mov'), item('b/bell.xml', OTHER)];
    expect(moves(sortInput(items), settings({}, folder('V', { kinds: ['video'] })))).toEqual([
      'a/bell.mov → Test/V/bell.mov',
      'b/bell.mov → Test/V/bell_2.mov',
      'b/bell.xml → Test/V/bell_2.xml',
    ]);
  });

  it('parts of a take go where its picture goes', () => {
    const [picture, sound] = [item('x/A003.mov'), item('y/boom.wav', SOUND)];
    const input = sortInput([picture, sound], { takes: [[picture.id, sound.id]] });
    expect(moves(input, settings({}, folder('V', { kinds: ['video'] }), folder('S', { kinds: ['audio'] })))).toEqual([
      'x/A003.mov → Test/V/A003.mov',
      'y/boom.wav → Test/V/boom.wav',
    ]);
  });

  it('a card is put as it is, with what the stock does not list; a marked folder too', () => {
    const items = [item('CARD/DCIM/100MILLA/M1.mov'), item('CARD/MISC/i.txt', OTHER), item('keep/a.mov'), item('keep/deep/b.wav', SOUND)];
    const extras = [
      { place: { shelfId: 'A', path: 'CARD/DCIM/.x' }, identity: { sizeBytes: 1, modifiedNs: '1', changedNs: '1', inode: '1', bornNs: '1' } },
    ];
    const own = settings(
      { whole: [{ shelfId: 'A', path: 'keep' }], names: { from: 'pattern', pattern: '{n}', level: 'plain' } },
      folder('V', { kinds: ['video'] }),
    );
    expect(moves(sortInput(items, { extras }), own).sort()).toEqual([
      'CARD/DCIM/.x → Test/V/CARD/DCIM/.x',
      'CARD/DCIM/100MILLA/M1.mov → Test/V/CARD/DCIM/100MILLA/M1.mov',
      'CARD/MISC/i.txt → Test/V/CARD/MISC/i.txt',
      'keep/a.mov → Test/V/keep/a.mov',
      'keep/deep/b.wav → Test/V/keep/deep/b.wav',
    ]);
  });

  it('a card beside other media is its tree alone, and gets a folder by which it is one again', () => {
    const items = [item('Footage/DCIM/100MILLA/M1.mov'), item('Footage/talk.mov')];
    expect(moves(sortInput(items), settings({}, folder('V', {})))).toEqual([
      'Footage/DCIM/100MILLA/M1.mov → Test/V/Footage/DCIM/100MILLA/M1.mov',
      'Footage/talk.mov → Test/V/talk.mov',
    ]);
  });
});

describe('where', () => {
  it('after the bins, as it was, by hand', () => {
    const items = [item('Day 1/a.mov'), item('Day 2/b.mov')];
    const input = sortInput(items, { uses: usesOf({ item: items[0]!, clip: 'Pour', bin: 'Rushes/Fire' }) });
    expect(moves(input, settings({ structure: 'bins' }))).toEqual(['Day 1/a.mov → Test/Rushes/Fire/a.mov', 'Day 2/b.mov → Test/To sort/b.mov']);
    expect(moves(input, settings({ structure: 'as-it-was' }))).toEqual([
      'Day 1/a.mov → Test/SHELF-A/Day 1/a.mov',
      'Day 2/b.mov → Test/SHELF-A/Day 2/b.mov',
    ]);
    const byHand = settings({ exceptions: [{ unitId: items[0]!.id, folderId: 'rest' }] }, folder('V', {}));
    expect(moves(input, byHand)).toEqual(['Day 1/a.mov → Test/To sort/a.mov', 'Day 2/b.mov → Test/V/b.mov']);
  });

  it('numbered folders roll over, and hold what they hold at the next sort', () => {
    const items = ['a', 'b', 'c', 'd', 'e'].map((name) => item(`x/${name}.mov`));
    const own = settings({ perFolder: 2 }, folder('V', {}));
    expect(moves(sortInput(items), own).map((move) => move.split('Test/V/')[1])).toEqual([
      '001/a.mov',
      '001/b.mov',
      '002/c.mov',
      '002/d.mov',
      '003/e.mov',
    ]);
  });

  it('what takes the name of another that goes waits for it; two that change names go by way of a third', () => {
    const items = [item('Test/V/a.mov'), item('Test/V/b.mov')];
    const uses = usesOf({ item: items[0]!, clip: 'b' }, { item: items[1]!, clip: 'c' });
    const own = settings({ names: { from: 'clip', pattern: '', level: 'everywhere' } }, folder('V', {}));
    const phases = Object.fromEntries(
      planSort(sortInput(items, { uses }), own).steps.flatMap((step) => (step.action === 'move' ? [[step.from!.path, step.phase]] : [])),
    );
    expect(phases['Test/V/a.mov']).toBeGreaterThan(phases['Test/V/b.mov']!);
    const swapped = planSort(sortInput(items, { uses: usesOf({ item: items[0]!, clip: 'b' }, { item: items[1]!, clip: 'a' }) }), own);
    expect(replay(swapped.steps.flatMap((step) => (step.action === 'move' ? [step] : [])), items)).toEqual({ [items[0]!.id]: 'Test/V/b.mov', [items[1]!.id]: 'Test/V/a.mov' }); // prettier-ignore
  });

  it('crates, unplugged and read-only shelves keep what they hold, and say so', () => {
    const items = [item('crates/x/data/a.mov'), item('b.mov', {}, { place: { shelfId: 'B', path: 'b.mov' } }), item('c.mov')];
    const input = sortInput(items, {
      sealed: [{ name: 'Mix', place: { shelfId: 'A', path: 'crates/x' } }],
      shelves: [shelf('A'), shelf('B', { attached: false })],
    });
    const plan = planSort(input, settings({}, folder('V', {})));
    expect(plan.detail.rows.map(({ stays }) => stays)).toEqual([null, 'part of the crate Mix', 'SHELF-B is not plugged in']);
    expect(planSort(sortInput(items.slice(1, 2), { shelves: [shelf('A'), shelf('B', { writable: false })] }), settings()).detail.rows[0]!.stays).toBe(
      'SHELF-B is read-only',
    );
  });

  it('equal files are one only where both were read whole', () => {
    const same = { sha256: 'f'.repeat(64), content: 'f'.repeat(64) };
    const items = [item('a/x.mov', {}, same), item('b/x.mov', {}, same), item('c/x.mov')];
    const plan = planSort(sortInput(items), settings({ equalAsOne: true }, folder('V', {})));
    expect(plan.steps.filter(({ action }) => action === 'move').map((step) => step.to!.path)).toEqual(['Test/V/x.mov', 'Test/V/x_2.mov']);
    expect(plan.steps.flatMap((step) => (step.action === 'link' && step.change.type === 'read-equal' ? [step.from!.path] : []))).toEqual(['b/x.mov']);
  });
});

describe('said before', () => {
  const one = sortInput([item('x/a.mov')]);
  it.each([
    [settings({ destination: null }), 'no-destination'],
    [settings({ rootName: '' }), 'no-folder-name'],
    [settings({ rootName: '{rell}' }), 'root-name'],
    [settings({ names: { from: 'pattern', pattern: ' ', level: 'plain' } }), 'name-pattern'],
    [settings({ names: { from: 'pattern', pattern: '{', level: 'plain' } }), 'name-pattern'],
    [settings({}, folder('{', {})), 'scheme-name'],
    [settings({ destination: { shelfId: 'A', path: 'CARD/DCIM/100MILLA' } }), 'destination-on-card'],
    [settings({}, folder('V', { kinds: ['audio'] })), 'no-rule'],
    [settings({ exceptions: [{ unitId: 'gone', folderId: 'V' }] }, folder('V', {})), 'exception-gone'],
    [settings({ destination: { shelfId: 'A', path: 'deep/'.repeat(60) + 'x' } }, folder('V', {})), 'path-long'],
    [settings({ destination: { shelfId: 'A', path: '.hidden' } }), 'hidden-folder'],
  ] as [SortSettings, string][])('said before, %#', (own, code) => expect(codes(one, own)).toContain(code));

  it('names that are all one, rules behind others, files that are open', () => {
    const items = [item('x/a.mov'), item('x/b.mov')];
    const named = settings({ names: { from: 'pattern', pattern: 'same', level: 'plain' } }, folder('V', {}));
    expect(codes(sortInput(items), named)).toContain('one-name');
    expect(codes(sortInput(items), settings({}, folder('V', { kinds: ['video'] }), folder('W', { used: false })))).toContain('rule-behind');
    expect(codes(sortInput(items, { open: new Map([['A\nx/a.mov', 'mixer']]) }), settings({}, folder('V', {})))).toContain('open');
    expect(codes(sortInput(items, { sealed: [{ name: 'C', place: { shelfId: 'A', path: 'Test' } }] }), settings())).toContain('destination-in-crate');
  });
});

/** Where every item stands when the moves are done phase by phase; throws where one is in another's way. */
function replay(steps: readonly MoveStep[], items: readonly Item[], tell: (id: string, step: MoveStep) => void = () => {}): Record<string, string> {
  const at = new Map(items.map(({ id, place }) => [place.path, id]));
  const isTaken = (path: string, by: string) => [...at.keys()].some((own) => own !== by && foldPath(own) === foldPath(path));
  for (const phase of [...new Set(steps.map((step) => step.phase))].sort((a, b) => a - b)) {
    for (const step of steps.filter((entry) => entry.phase === phase)) {
      const [from, to] = [step.from!.path, step.to!.path];
      const id = at.get(from);
      if (id === undefined) throw new Error(`nothing stands at ${from}`);
      if (isTaken(to, from)) throw new Error(`${to} is taken`);
      at.delete(from);
      at.set(to, id);
      tell(id, step);
    }
  }
  return Object.fromEntries([...at].map(([path, id]) => [id, path]));
}

/** Cards come from file systems that fold case: they hold no two names that differ in it alone. */
const cardsFold = ([home, name]: [string, string]) => (home.startsWith('card') ? foldPath(`${home}/${name}`) : `${home}/${name}`);

it('whatever is sorted: nothing meets on the way or at the end, and a second sort has nothing to do', () => {
  const names = fc.constantFrom(
    'bell.mov',
    'Bell.mov',
    'BELL.MOV',
    'bell_2.mov',
    'bell_3.mov',
    'e\u0301.mov',
    'é.mov',
    'CON.mov',
    '001.mov',
    'a.xml',
    'bell.xml',
    'x'.repeat(240) + '.mov',
    'x'.repeat(240) + '1.mov',
  );
  const places = fc.uniqueArray(
    fc.tuple(fc.constantFrom('a', 'b', 'Test/V', 'Test/To sort', 'Test/V/001', 'card/DCIM/100MILLA', 'card/MISC'), names),
    { minLength: 1, maxLength: 16, selector: cardsFold },
  );
  const choices = fc.record({
    structure: fc.constantFrom('scheme' as const, 'bins' as const, 'as-it-was' as const),
    from: fc.constantFrom('original' as const, 'clip' as const, 'pattern' as const),
    pattern: fc.constantFrom('{n:3}', '{original}', '{clip}_{n}', 'same', 'bell_{n}', `${'y'.repeat(210)}{n}`),
    level: fc.constantFrom('everywhere' as const, 'plain' as const, 'here' as const),
    clashes: fc.constantFrom('number' as const, 'reel' as const, 'day' as const),
    perFolder: fc.constantFrom(null, 1, 3),
    clips: fc.array(fc.constantFrom('bell', 'Bell', 'bell_2', 'CON', 'a/b'), { maxLength: 16 }),
    rule: fc.constantFrom({}, { kinds: ['video' as const] }, { names: ['b*'] }),
  });
  fc.assert(
    fc.property(places, choices, (pairs, { clips, from, pattern, level, rule, ...own }) => {
      const items = pairs.map(([home, name]) => item(`${home}/${name}`, name.endsWith('.xml') ? OTHER : {}));
      const uses = usesOf(...items.flatMap((entry, index) => (clips[index] ? [{ item: entry, clip: clips[index], bin: index % 2 ? 'V' : '' }] : [])));
      const asked = settings({ ...own, names: { from, pattern, level } }, folder('V', rule));
      const plan = planSort(sortInput(items, { uses }), asked);
      const steps = plan.steps.flatMap((step) => (step.action === 'move' ? [step] : []));
      const original = new Map<string, string | null>();
      const ends = replay(steps, items, (id, { originalAfter }) => original.set(id, originalAfter));
      expect(Object.keys(ends)).toHaveLength(items.length);
      for (const path of Object.values(ends))
        for (const name of path.split('/')) expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(255);

      // A paper of nobody that comes to lie beside media of its name is its sidecar from then on, and may follow its name.
      if (from !== 'original' && items.some(({ facts }) => facts.kind === 'other')) return;
      const moved = items.map((entry): Item => {
        const kept = original.get(entry.id) ?? null;
        return { ...entry, place: { ...entry.place, path: ends[entry.id]! }, ...(kept === null ? {} : { originalName: kept }) };
      });
      const usesThen = usesOf(
        ...moved.flatMap((entry, index) => (clips[index] ? [{ item: entry, clip: clips[index], bin: index % 2 ? 'V' : '' }] : [])),
      );
      const again = planSort(sortInput(moved, { uses: usesThen }), asked);
      expect(again.steps.flatMap((step) => (step.action === 'move' ? [`${step.from!.path} → ${step.to!.path}`] : []))).toEqual([]);
    }),
    { numRuns: 1_500, ...(process.env.MILL_SEED ? { seed: Number(process.env.MILL_SEED) } : {}) },
  );
});
