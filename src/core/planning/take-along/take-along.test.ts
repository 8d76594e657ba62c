import { expect, it } from 'vitest';
import { cut, item, shelf, snapshot, timeline, withProxies } from '../../../../tests/helpers/snapshots';
import { planTakeAlong } from './take-along';
import type { TakeAlongSettings, TakeRow } from './settings';

const none: TakeRow = { isTaken: false, destination: null, folderName: 'x' };
const taken: TakeRow = { isTaken: true, destination: { shelfId: 'B', path: '' }, folderName: 'Travel' };
const settings = (rows: Partial<TakeAlongSettings['rows']>, own: Partial<TakeAlongSettings> = {}): TakeAlongSettings => ({ scope: { of: 'project' }, rows: { source: none, mezzanine: none, proxy: none, finished: none, ...rows }, trip: null, layout: 'sources', asHome: false, ...own }); // prettier-ignore
const cuts = timeline('t', [cut('day 1/a.mov', 0, 10), cut('day 2/b.mov', 0, 10)]);
const items = [item('day 1/a.mov'), item('day 2/b.mov')];
const proxy = item('Proxies/a.mov', {}, { place: { shelfId: 'C', path: 'Proxies/a.mov' }, sizeBytes: 5_000 });
const shelves = [shelf('A'), shelf('B'), shelf('C')];
const here = withProxies(snapshot({ timelines: [cuts], items, shelves }), { 'day 1/a.mov': proxy });
const copies = (plan: ReturnType<typeof planTakeAlong>) => plan.steps.flatMap(({ action, to }) => (action === 'copy' ? [to!.path] : []));

it('copies the kinds that are chosen, in the folders they came from, and points the clips there', () => {
  const plan = planTakeAlong(here, settings({ source: taken }));
  expect(copies(plan)).toEqual(['Travel/SHELF-A/day 1/a.mov', 'Travel/SHELF-A/day 2/b.mov']);
  expect(plan.steps.at(-1)).toMatchObject({ action: 'link', change: { type: 'taken-along', links: [{}, {}] } });
  const kind = (of: string) => plan.detail.kinds.find((own) => own.kind === of)!;
  expect([kind('source').clips, kind('proxy').clips, kind('proxy').lacking, kind('proxy').bytes]).toEqual([2, 1, 1, 5_000]);
  expect(copies(planTakeAlong(here, settings({ proxy: taken })))).toHaveLength(1);
});

it('takes nothing that stands there already or whose drive is away, and says so of each', () => {
  const there = planTakeAlong(here, settings({ source: { ...taken, destination: { shelfId: 'A', path: '' }, folderName: 'day 1' } }));
  expect(there.detail.rows.filter(({ fate }) => fate === 'there already').map(({ name }) => name)).toEqual(['day 1/a.mov']);
  const away = { ...here, shelves: [shelf('A', { attached: false }), shelf('B'), shelf('C')] };
  const gone = planTakeAlong(away, settings({ source: taken }));
  expect([copies(gone), gone.detail.rows.map(({ fate }) => fate)]).toEqual([[], ['cannot', 'cannot']]);
  expect(gone.blocked).not.toBeNull();
});

it('never two files of one path, nor one that stands there', () => {
  const twins = snapshot({ timelines: [timeline('t', [cut('x/a.mov', 0, 1), cut('y/a.mov', 0, 1)])], items: [item('x/a.mov'), item('y/a.mov')], shelves }); // prettier-ignore
  const paths = copies(planTakeAlong(twins, settings({ source: taken }, { layout: 'reel' }), { source: ['A001/a.mov'] }));
  expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(2);
  expect(paths).not.toContain('Travel/A001/a.mov');
});

it('a trip that has no room takes the lighter copy, or stays behind with words', () => {
  const trip = { destination: { shelfId: 'B', path: '' }, folderName: 'Trip', days: 0, dayBytes: 0, mostBytes: 600_000 };
  const plan = planTakeAlong(here, settings({}, { trip }));
  expect(copies(plan)).toHaveLength(1);
  expect(copies(plan)[0]).toMatch(/^Trip\/Proxies\//);
  expect(plan.findings.map(({ code }) => code)).toEqual(expect.arrayContaining(['no-room-for']));
});
