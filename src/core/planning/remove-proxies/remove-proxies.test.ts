import { expect, it } from 'vitest';
import { cut, item, shelf, snapshot, timeline, withProxies } from '../../../../tests/helpers/snapshots';
import type { FileReader } from '../taking/file-readers';
import { planRemoveProxies } from './remove-proxies';
import type { RemoveProxiesSettings } from './settings';

const proxy = (name: string) => item(`Proxies/${name}`, {}, { place: { shelfId: 'B', path: `Proxies/${name}` }, sizeBytes: 5_000 });
const cuts = timeline('t', [cut('a.mov', 0, 10), cut('b.mov', 0, 10)]);
const settings = (own: Partial<RemoveProxiesSettings> = {}): RemoveProxiesSettings => ({ scope: { of: 'project' }, rendition: 'proxy', which: 'all', confirmed: false, ...own }); // prettier-ignore
const nobody = () => [];

it('removes the files of those chosen and their links, and asks before a clip goes offline', () => {
  const sources = [shelf('A', { attached: false }), shelf('B')];
  const both = { 'a.mov': proxy('a.mov'), 'b.mov': proxy('b.mov') };
  const away = withProxies(snapshot({ timelines: [cuts], items: [item('a.mov'), item('b.mov')], shelves: sources }), both);
  const asked = planRemoveProxies(away, settings(), nobody);
  expect(asked.detail.goOffline).toBe(2);
  expect(asked.blocked).not.toBeNull();
  const confirmed = planRemoveProxies(away, settings({ confirmed: true }), nobody);
  expect(confirmed.blocked).toBeNull();
  expect(confirmed.steps.map(({ action, from }) => [action, from?.path ?? null])).toEqual([
    ['remove', 'Proxies/a.mov'],
    ['remove', 'Proxies/b.mov'],
    ['link', null],
  ]);
  // None of them is spare: they stand for clips.
  expect(planRemoveProxies(away, settings({ which: 'spare' }), nobody).detail.rows).toEqual([]);
});

it('keeps what somebody else reads, and files that were made elsewhere unless they are meant', () => {
  const here = snapshot({ timelines: [cuts], items: [item('a.mov'), item('b.mov')] });
  const reader: FileReader = { projectId: 'q', project: 'Tower unit', clipId: 'x', clip: 'A', renditionId: 'rx', place: proxy('a.mov').place, isLinked: true, isPart: false, losesLast: false }; // prettier-ignore
  const own = planRemoveProxies(withProxies(here, { 'a.mov': proxy('a.mov'), 'b.mov': proxy('b.mov') }), settings(), () => [reader]);
  expect(own.detail.rows.map(({ name, fate, why }) => [name, fate, why.includes('Tower unit')])).toEqual([
    ['a.mov', 'unlinked', true],
    ['b.mov', 'removed', false],
  ]);
  const foreign = withProxies(here, { 'a.mov': proxy('a.mov') }, null);
  expect(planRemoveProxies(foreign, settings(), nobody).detail.rows.map(({ fate }) => fate)).toEqual(['unlinked']);
  expect(planRemoveProxies(foreign, settings({ elsewhere: true }), nobody).detail.rows.map(({ fate }) => fate)).toEqual(['removed']);
});
