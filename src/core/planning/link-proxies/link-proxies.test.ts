import { expect, it } from 'vitest';
import { cut, item, snapshot, timeline } from '../../../../tests/helpers/snapshots';
import type { MediaFacts } from '../../media/item';
import { planLinkProxies } from './link-proxies';
import type { LinkProxiesSettings } from './settings';

const found = (path: string, facts: Partial<MediaFacts> = {}) => item(path, facts, { place: { shelfId: 'B', path } });
const from = snapshot({ timelines: [timeline('t', [cut('day 1/forge.mov', 0, 10), cut('day 2/bell.mov', 0, 10)])], items: [item('day 1/forge.mov'), item('day 2/bell.mov')] }); // prettier-ignore
const settings = (own: Partial<LinkProxiesSettings> = {}): LinkProxiesSettings => ({ scope: { of: 'project' }, rendition: 'proxy', place: { shelfId: 'B', path: '' }, endings: '_proxy', inFolders: '', burnIn: false, choices: {}, ...own }); // prettier-ignore
const fates = (items: Parameters<typeof planLinkProxies>[2], own: Partial<LinkProxiesSettings> = {}) =>
  Object.fromEntries(planLinkProxies(from, settings(own), items).detail.rows.map(({ name, fate }) => [name, fate]));

it('links one that is called as its source and fits it; of two that fit none without a word', () => {
  expect(fates([found('px/FORGE_Proxy.mov'), found('px/bell.mov')])).toEqual({ 'day 1/forge.mov': 'linked', 'day 2/bell.mov': 'linked' });
  const two = [found('px/forge_proxy.mov'), found('old/forge.mov')];
  expect(fates(two)).toEqual({ 'day 1/forge.mov': 'offered', 'day 2/bell.mov': 'none' });
  expect(fates(two, { inFolders: 'px' })['day 1/forge.mov']).toBe('linked');
  expect(fates(two, { choices: { 'day 1/forge.mov': two[1]!.id } })['day 1/forge.mov']).toBe('linked');
});

it('never one of another length, rate or timecode, whatever is chosen; nor what cannot be read', () => {
  const short = found('px/forge.mov', { durationFrames: 999 });
  expect(fates([short])['day 1/forge.mov']).toBe('unfit');
  expect(fates([short], { choices: { 'day 1/forge.mov': short.id } })['day 1/forge.mov']).toBe('unfit');
  expect(fates([found('px/forge.mov', { rate: { num: 24, den: 1 } })])['day 1/forge.mov']).toBe('unfit');
  expect(fates([found('px/forge.mov', { startFrame: 900_001 })])['day 1/forge.mov']).toBe('unfit');
  expect(fates([{ ...found('px/forge.mov'), problem: 'It cannot be read.' }])['day 1/forge.mov']).toBe('none');
  expect(planLinkProxies(from, settings({ place: null }), []).blocked).toBe('No folder is chosen.');
});
