/** Parts of sources in the house they were pulled in, named by those who know nothing of it, and in houses that have nothing else. */
import { cpSync, mkdtempSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, expect, it } from 'vitest';
import type { Json, OtioObject } from '../../../src/core/interchange/otio/otio-types';
import { clipDocument, externalReference, formatOtio, timeRange } from '../../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../../src/core/interchange/read-timeline-file';
import type { ExchangeDetail } from '../../../src/core/planning/exchange/exchange';
import type { ProxyDetail } from '../../../src/core/planning/proxies/proxies';
import { PROXIES_AT_FIRST, type ProxySettings } from '../../../src/core/planning/proxies/settings';
import type { RelinkDetail } from '../../../src/core/planning/relink/relink';
import { rate } from '../../../src/core/time/rate';
import type { CompareView } from '../../../src/server/projects/views/compare';
import type { ItemUsageView, ItemUsesView, UsageTotals } from '../../../src/server/projects/views/usage';
import { bringIn } from '../../../src/server/projects/bring-in';
import { Study } from '../../../src/server/questions/study';
import { eject } from '../../helpers/colleague';
import { clipsSeen, makeHouse, makeIntra, type SmallHouse } from '../../helpers/small-house';
import { cutTimeline, filesBelow, go, PAL, pullSettings, undo } from '../../helpers/trust-house';

/** Two takes, made once. */
const takes = mkdtempSync(join(tmpdir(), 'mill-takes-'));
beforeAll(() => Promise.all(['ladle', 'yard'].map((name) => makeIntra(join(takes, `${name}.mov`), 60, '10:00:00:00'))));
afterAll(() => rmSync(takes, { recursive: true }));

let home: SmallHouse;
let away: SmallHouse | null = null;
beforeEach(() => {
  home = makeHouse();
});
afterEach(async () => {
  await home.remove();
  await away?.remove();
  away = null;
});

const START = 10 * 3600 * 25;

function shot(name: string, from: number, frames: number): OtioObject {
  const reference = externalReference(`/Volumes/FOUNDRY-A/${name}.mov`, name, timeRange(START, 60, PAL));
  return clipDocument(name, timeRange(START + from, frames, PAL), reference);
}

/** A cut of two takes, the first in two places, and its parts as they were pulled. */
async function pullParts(): Promise<{ cut: string; text: string }> {
  for (const name of ['ladle', 'yard']) cpSync(join(takes, `${name}.mov`), join(home.source.root, `${name}.mov`));
  await home.stocktake(home.source.id);
  const cut = home.bring(cutTimeline('Cut', [shot('ladle', 5, 10), shot('yard', 20, 10), shot('ladle', 45, 8)]));
  await go(home, await home.plan({ kind: 'pull', settings: pullSettings(home, cut, { media: 'parts', headFrames: 2, tailFrames: 2 }) }));
  return {
    cut,
    text: readFileSync(
      join(
        home.vault.root,
        'pulled',
        filesBelow(join(home.vault.root, 'pulled')).find((name) => name.endsWith('.otio'))!,
      ),
      'utf8',
    ),
  };
}

/** As other systems give it back: what only we write is gone. */
function withoutOurWords(text: string): string {
  const strip = (node: Json): Json => {
    if (Array.isArray(node)) return node.map(strip);
    if (node === null || typeof node !== 'object') return node;
    return Object.fromEntries(Object.entries(node).flatMap(([key, value]) => (key === 'mill_shelf' ? [] : [[key, strip(value)]])));
  };
  return JSON.stringify({ ...(strip(JSON.parse(text) as Json) as OtioObject), name: 'Cut elsewhere' });
}

function bring(house: SmallHouse, text: string, folder: string | null = null): { id: string; newClips: number } {
  const place = folder === null ? null : { shelfId: house.vault.id, path: folder };
  const file = readTimelineFile(text, rate(25));
  const { timelineIds, newClips } = bringIn(house.house.catalogue, house.house.mounts, house.projectId, file, 'cut.otio', place, randomUUID);
  return { id: timelineIds[0]!, newClips };
}

async function compare(house: SmallHouse, before: string, after: string): Promise<CompareView['counts']> {
  const study = new Study(house.house.catalogue, house.house.mounts);
  return (await study.answer({ ask: 'compare', projectId: house.projectId, before, after })).counts;
}

it('a list that names a part and says nothing of its source reads the frames of the part', async () => {
  const { cut, text } = await pullParts();
  const { id, newClips } = bring(home, withoutOurWords(text), 'pulled/timelines');
  expect([newClips, await compare(home, cut, id)]).toMatchObject([0, { same: 3, added: 0, removed: 0, exchanged: 0, trimmed: 0 }]);
});

/** Somebody who has nothing but what was pulled. */
async function carry(text: string): Promise<string> {
  away = makeHouse();
  cpSync(join(home.vault.root, 'pulled'), join(away.vault.root, 'pulled'), { recursive: true });
  await away.stocktake(away.vault.id);
  const { id, newClips } = bring(away, text, 'pulled/timelines');
  expect(newClips).toBe(2);
  return id;
}

const told = async (house: SmallHouse) =>
  (await clipsSeen(house)).map(({ name, state, parts, fileName, events }) => [name, state, parts, fileName, events]);

it('where only parts are, they are one clip of their source', async () => {
  const { cut, text } = await pullParts();
  const id = await carry(text);
  expect(await told(away!)).toEqual([
    ['ladle', 'present', 2, 'ladle.mov', 2],
    ['yard', 'present', 1, 'yard.mov', 1],
  ]);
  // Pulled again there, and brought home: the same cut.
  await go(
    away!,
    await away!.plan({ kind: 'pull', settings: pullSettings(away!, id, { media: 'parts', headFrames: 1, tailFrames: 1, folderName: 'again' }) }),
  );
  expect((await clipsSeen(away!)).length).toBe(2);
  const again = readFileSync(
    join(
      away!.vault.root,
      'again',
      filesBelow(join(away!.vault.root, 'again')).find((name) => name.endsWith('.otio'))!,
    ),
    'utf8',
  );
  const back = bring(home, again);
  expect([back.newClips, await compare(home, cut, back.id)]).toMatchObject([0, { same: 3, added: 0, removed: 0, exchanged: 0 }]);
});

it('a folder of parts that was renamed is found again, part by part', async () => {
  const { text } = await pullParts();
  const id = await carry(text);
  const { catalogue } = away!.house;
  renameSync(join(away!.vault.root, 'pulled/media'), join(away!.vault.root, 'pulled/renamed'));
  await away!.stocktake(away!.vault.id);
  expect((await told(away!)).map(([, state]) => state)).toEqual(['missing', 'missing']);
  const plan = await away!.plan({ kind: 'relink', settings: { scope: null, choices: {} } });
  const rows = (plan.detail as RelinkDetail).groups.flatMap((group) => group.rows);
  expect(rows.map(({ name, fileName, events, chosen }) => [name, fileName, events, chosen !== null])).toEqual([
    ['ladle', 'ladle_part1.mov', 1, true],
    ['ladle', 'ladle_part2.mov', 1, true],
    ['yard', 'yard.mov', 1, true],
  ]);
  const { id: runId } = await go(away!, plan);
  expect((await told(away!)).map(([, state, parts]) => [state, parts])).toEqual([
    ['present', 2],
    ['present', 1],
  ]);
  // The frames are those of the parts, as they were.
  const again = bring(away!, text.replace('"name": "Cut', '"name": "Same cut'), 'pulled/timelines');
  expect([again.newClips, await compare(away!, id, again.id)]).toMatchObject([0, { same: 3, exchanged: 0 }]);
  expect((await told(away!)).map(([, , parts]) => parts)).toEqual([2, 1]);
  await undo(away!, runId);
  expect((await told(away!)).map(([, state]) => state)).toEqual(['missing', 'missing']);
  expect(catalogue.clips.ids(away!.projectId).length).toBe(2);
});

it('parts on a drive that is unplugged wait for it', async () => {
  const { text } = await pullParts();
  await carry(text);
  const back = eject(away!.vault.root);
  expect((await told(away!)).map(([, state]) => state)).toEqual(['unplugged', 'unplugged']);
  const plan = await away!.plan({ kind: 'relink', settings: { scope: null, choices: {} } });
  expect((plan.detail as RelinkDetail).groups.map(({ state, rows }) => [state, rows.length])).toEqual([['unplugged', 3]]);
  back();
  expect((await told(away!)).map(([, state]) => state)).toEqual(['present', 'present']);
});

it('the whole source that comes later is read by the same clip', async () => {
  const { cut, text } = await pullParts();
  const id = await carry(text);
  // What the home exports names the whole files.
  cpSync(join(home.source.root, 'ladle.mov'), join(away!.source.root, 'ladle.mov'));
  await away!.stocktake(away!.source.id);
  await go(
    home,
    await home.plan({
      kind: 'export',
      settings: { timelineIds: [cut], format: 'otio', destination: { shelfId: home.source.id, path: '' }, folderName: 'out' },
    }),
  );
  cpSync(join(home.source.root, 'out'), join(away!.source.root, 'out'), { recursive: true });
  const file = readTimelineFile(readFileSync(join(home.source.root, 'out/Cut.otio'), 'utf8'), rate(25));
  const { house, projectId, source } = away!;
  const brought = bringIn(house.catalogue, house.mounts, projectId, file, 'cut.otio', { shelfId: source.id, path: 'out' }, randomUUID);
  expect([brought.newClips, await compare(away!, id, brought.timelineIds[0]!)]).toMatchObject([0, { same: 3, exchanged: 0 }]);
  const clips = await clipsSeen(away!);
  expect(clips.map(({ name, state, place, parts }) => [name, state, place?.path ?? null, parts])).toEqual([
    ['ladle', 'present', 'ladle.mov', 2],
    ['yard', 'present', null, 1],
  ]);
});

it('who counts from 0 in a part, and does not say so, does not read the source from its first frame', async () => {
  const { text } = await pullParts();
  await carry(text);
  const loose = (label: string, from: number) => {
    const reference = externalReference(`file://${join(away!.vault.root, 'pulled/media/picture/ladle_part2.mov')}`, 'ladle_part2', null);
    return formatOtio(cutTimeline(label, [clipDocument('ladle', timeRange(from, 8, PAL), reference)]));
  };
  const reads = async (label: string, from: number) => {
    const { id } = bring(away!, loose(label, from));
    const study = new Study(away!.house.catalogue, away!.house.mounts);
    const view = await study.answer({ ask: 'timeline', projectId: away!.projectId, timelineId: id });
    return view.sources.map(({ name, used }) => [name, used]);
  };
  // Frames 45 to 53 of the source, 2 to 10 of the part.
  expect(await reads('by timecode', START + 45)).toEqual(await reads('from 0', 2));
});

const proxies = (house: SmallHouse, more: Partial<ProxySettings> = {}) =>
  house.plan({ kind: 'proxies', settings: { ...PROXIES_AT_FIRST, destination: { shelfId: house.source.id, path: '' }, ...more } });

const fates = (plan: { readonly detail: unknown }) => (plan.detail as ProxyDetail).rows.map(({ name, fate, why }) => `${name}: ${fate}, ${why}`);

async function eventStates(house: SmallHouse, timelineId: string): Promise<(string | undefined)[]> {
  const study = new Study(house.house.catalogue, house.house.mounts);
  const view = await study.answer({ ask: 'timeline', projectId: house.projectId, timelineId });
  return view.tracks.flatMap((track) => track.events.map(({ state }) => state));
}

it('proxies are made of parts where they are asked for; events read them while the parts are away', async () => {
  const { text } = await pullParts();
  const id = await carry(text);
  const { catalogue } = away!.house;
  expect(fates(await proxies(away!))).toEqual(['ladle: cannot, only parts are here', 'yard: cannot, only parts are here']);
  const plan = await proxies(away!, { parts: true });
  expect(fates(plan)).toEqual(['ladle: made, of 2 parts of it', 'yard: made, of 1 part of it']);
  const { id: runId, run } = await go(away!, plan);
  expect([run.state, filesBelow(join(away!.source.root, 'Proxies')).length]).toEqual(['done', 3]);
  expect(fates(await proxies(away!, { parts: true }))).toEqual(['ladle: has one, its parts have them', 'yard: has one, its part has one']);
  // They are copies of the parts, frame for frame, and never another clip or the source.
  expect(catalogue.clips.ofProject(away!.projectId).map(({ name, renditions, parts, partCopies }) => [name, renditions.length, parts?.length, partCopies?.length])).toEqual([['ladle', 1, 2, 2], ['yard', 1, 1, 1]]); // prettier-ignore
  const back = eject(away!.vault.root);
  expect((await told(away!)).map(([, state]) => state)).toEqual(['by-proxy', 'by-proxy']);
  expect(await eventStates(away!, id)).toEqual(['by-proxy', 'by-proxy', 'by-proxy']);
  // Nothing that takes pictures along takes a light copy for the picture.
  const pull = await away!.plan({ kind: 'pull', settings: pullSettings(away!, id, { media: 'parts' }) });
  expect(pull.steps.filter(({ action }) => action === 'trim' || action === 'copy')).toEqual([]);
  back();
  // An event of which the light copies lack frames is offline while the parts are away.
  const [ladle] = catalogue.clips.ofProject(away!.projectId);
  const lost = ladle!.partCopies!.find(({ range }) => range.start > 30)!;
  catalogue.clips.removeRenditions([lost.id]);
  const backAgain = eject(away!.vault.root);
  expect((await eventStates(away!, id)).map((state) => state === 'by-proxy')).toEqual([true, true, false]);
  backAgain();
  catalogue.parts.addCopy(ladle!.id, lost);
  const removal = await away!.plan({
    kind: 'remove-proxies',
    settings: { scope: { of: 'project' }, rendition: 'proxy', which: 'spare', confirmed: false },
  });
  expect(removal.headline.value).toBeGreaterThan(0);
  expect(removal.steps.filter(({ action }) => action === 'remove').length).toBe(3);
  await undo(away!, runId);
  expect(filesBelow(away!.source.root).filter((name) => name.includes('Proxies/'))).toEqual([]);
  expect(catalogue.clips.ofProject(away!.projectId).flatMap(({ partCopies = [] }) => partCopies)).toEqual([]);
});

it('usage tells parts beside their sources where they are asked for, and counts a source once', async () => {
  const { cut } = await pullParts();
  const study = new Study(home.house.catalogue, home.house.mounts);
  const ask = (more: object) => study.answer({ ask: 'usage', projectId: home.projectId, request: { timelineIds: [cut], bins: [], clipIds: [], countDisabled: true, filter: '', sort: 'name', down: false, limit: 100, offset: 0, ...more } }); // prettier-ignore
  const rows = async (more: object) => ((await ask({ list: 'used', ...more })) as { rows: readonly ItemUsageView[] }).rows;
  expect((await rows({})).map(({ name }) => name)).toEqual(['ladle.mov', 'yard.mov']);
  const all = await rows({ parts: true });
  expect(all.map(({ partOf, name, used, useCount }) => [partOf ?? name, used, useCount])).toEqual([
    ['ladle.mov', [{ start: 5, end: 15 }, { start: 45, end: 53 }], 2],
    ['ladle · part 10:00:00:03–10:00:00:17', [{ start: 2, end: 12 }], 1],
    ['ladle · part 10:00:01:18–10:00:02:05', [{ start: 2, end: 10 }], 1],
    ['yard.mov', [{ start: 20, end: 30 }], 1],
    ['yard · part 10:00:00:18–10:00:01:07', [{ start: 2, end: 12 }], 1],
  ]); // prettier-ignore
  const [plain, withParts] = [await ask({}), await ask({ parts: true })] as UsageTotals[];
  expect([plain!.used, withParts!.used]).toEqual([
    { ...plain!.used, parts: 0 },
    { ...plain!.used, parts: 3 },
  ]);
  const one = (await ask({ parts: true, key: all[2]!.key })) as ItemUsesView;
  expect(one.uses.rows.map(({ eventIndex, range }) => [eventIndex, range])).toEqual([[2, { start: 2, end: 10 }]]);
});

it('an exchange takes pulled parts for finished pictures only where they are asked for', async () => {
  const { cut } = await pullParts();
  const exchange = async (parts: boolean) => {
    const settings = { timelineId: cut, scope: { of: 'project' as const }, among: 'folder' as const, place: { shelfId: home.vault.id, path: '' }, endings: '', inFolders: '', what: 'picture' as const, parts, newest: false, inPlace: false, name: '', choices: {} }; // prettier-ignore
    const plan = await home.plan({ kind: 'exchange', settings });
    return [(plan.detail as ExchangeDetail).looked, ...(plan.detail as ExchangeDetail).rows.map(({ fate }) => fate)];
  };
  expect(await exchange(false)).toEqual([1, 'none', 'none', 'none']);
  expect(await exchange(true)).toEqual([4, 'exchanged', 'exchanged', 'exchanged']);
  // A copy of them elsewhere is still no finished picture.
  cpSync(join(home.vault.root, 'pulled/media'), join(home.vault.root, 'backup'), { recursive: true });
  await home.stocktake(home.vault.id);
  expect(await exchange(false)).toEqual([1, 'none', 'none', 'none']);
});
