import fc from 'fast-check';
import { expect, it } from 'vitest';
import { cut, PAL, timeline } from '../../../../tests/helpers/snapshots';
import { readOtioDocument } from '../../interchange/otio/otio-reader';
import type { OtioObject } from '../../interchange/otio/otio-types';
import { compareFiles, compareHtml, planCompareCrates, type ComparedCrate, type CrateFile } from './compare-crates';

const file = (path: string, content: string, bytes = 10): CrateFile => ({ path: `data/media/${path}`, content, bytes });
const model = (children: OtioObject[]) => readOtioDocument(timeline('Cut', children), PAL).timelines[0]!.timeline;
const crate = (name: string, files: readonly CrateFile[], children: OtioObject[] | null): ComparedCrate => ({
  name,
  files: [...files, { path: 'data/report.html', content: name, bytes: 1 }, { path: 'bagit.txt', content: 'b', bytes: 1 }],
  timelines: children && [{ name: 'Cut', folder: 'data/timelines', model: model(children) }],
});

it('media by path, then by content; timelines by what became of their events; lists and reports are no media', () => {
  const before = crate('A', [file('same.mov', '1'), file('old name.mov', '2'), file('gone.mov', '3'), file('other.mov', '4')], [cut('a.mov', 0, 20), cut('b.mov', 0, 20)]); // prettier-ignore
  const after = crate('B <2>', [file('same.mov', '1'), file('new name.mov', '2'), file('come.mov', '5'), file('other.mov', '6')], [cut('a.mov', 0, 15), cut('c.mov', 0, 20)]); // prettier-ignore
  const plan = planCompareCrates('p', before, after);
  const { rows, counts, timelines } = plan.detail;
  expect(counts).toEqual({ added: 1, removed: 1, changed: 1, renamed: 1, same: 1, part: 0, short: 0 });
  expect(rows.find(({ change }) => change === 'renamed')).toMatchObject({ path: 'data/media/new name.mov', was: 'data/media/old name.mov' });
  expect(timelines[0]!.words).toMatch(/1 trimmed; 2 events after$/);
  expect(timelines[0]!.words).toMatch(/with other media|added/);
  expect([plan.steps, plan.blocked !== null]).toEqual([[], true]);
  expect(compareHtml(plan.detail)).toContain('B &lt;2&gt;');
  expect(planCompareCrates('p', before, before).detail.timelines[0]!.words).toBe('the same 2 events');
  expect(planCompareCrates('p', before, crate('C', [], null)).findings.map(({ code }) => code)).toContain('crate-timelines-away');
});

it('every file of both stands in exactly one row, and the other way round added and removed change places', () => {
  const files = fc.uniqueArray(fc.record({ path: fc.constantFrom(...'abcdefgh'), content: fc.constantFrom('1', '2', '3', null) }), { selector: ({ path }) => path }); // prettier-ignore
  fc.assert(
    fc.property(files, files, (a, b) => {
      const [before, after] = [a, b].map((list) => list.map(({ path, content }): CrateFile => ({ path, content, bytes: content === null ? 0 : 10 })));
      const rows = compareFiles(before!, after!);
      const later = rows.filter(({ afterBytes }) => afterBytes !== null).map(({ path }) => path);
      const earlier = rows.filter(({ beforeBytes }) => beforeBytes !== null).map(({ path, was }) => was ?? path);
      expect(later.sort()).toEqual(after!.map(({ path }) => path).sort());
      expect(earlier.sort()).toEqual(before!.map(({ path }) => path).sort());
      const back = compareFiles(after!, before!);
      const count = (list: typeof rows, change: string) => list.filter((row) => row.change === change).length;
      for (const [one, two] of [
        ['added', 'removed'],
        ['removed', 'added'],
        ['same', 'same'],
        ['changed', 'changed'],
        ['renamed', 'renamed'],
      ] as const)
        // prettier-ignore
        expect(count(rows, one)).toBe(count(back, two));
    }),
  );
});
