/** A crate beside the project as it is now: which sources it holds, whole or in all the frames that are used, and what was cut since. */
import { readAddress } from '../../interchange/otio/target-url';
import type { SourceWord } from '../../interchange/otio/source-word';
import { comparePrints } from '../../media/fingerprint';
import { fileName, folderOf, joinPath, type Item } from '../../media/item';
import { byName } from '../../naming/by-name';
import { sourceRendition, type Clip, type MediaLink } from '../../project/clip';
import { activeReference, clipEvents, type ClipEvent } from '../../project/timeline';
import { subtract, totalFrames, unite, type FrameRange } from '../../time/range';
import { reportUsage, usageKey, type ItemUsage } from '../../usage/usage-report';
import { formatCount } from '../../words/figures';
import { notes, warns, type Finding } from '../../words/finding';
import type { CrateState } from '../package/crate-standing';
import type { Plan } from '../plan/plan';
import type { Snapshot, TimelineSnapshot } from '../plan/snapshot';
import { stockOf, type StockView } from '../plan/stock-view';
import { changesOf, compareFindings, mediaOf, planOf, sourceKey, type ComparedCrate, type ComparedFile, type ComparedTimeline, type CompareCratesDetail } from './compare-crates'; // prettier-ignore

/** What a crate holds of one item of a source. */
interface Holding {
  /** Null: all of it. */
  readonly ranges: readonly FrameRange[] | null;
  readonly print: string | null;
  readonly paths: readonly string[];
}

/** `crate`: with those of its files that stand there as they were; `standing`: how it stands as a whole. */
export function planCompareProject(snapshot: Snapshot, crate: ComparedCrate, standing: CrateState): Plan<CompareCratesDetail> {
  const { project, timelines } = snapshot;
  const files = mediaOf(crate);
  const { rows, held } = compareSources(snapshot, crate);
  const alone = files
    .filter(({ path }) => !held.has(path))
    .map(({ path, bytes }): ComparedFile => ({ path, change: 'removed', was: null, beforeBytes: bytes, afterBytes: null }));
  const all = [...rows, ...alone].sort((a, b) => byName(a.path, b.path));
  const before = { ...crate, files };
  return planOf(
    project.id,
    before.name,
    `${project.name} as it is now`,
    all,
    crate.timelines ? compareCuts(crate.timelines, timelines, snapshot.clips) : [],
    [
      ...compareFindings([crate]),
      ...standingFindings(crate, standing),
      notes('crate-compare', 'Sources are compared by checksums and fingerprints, parts by what the timelines in the crate say of their frames.'),
    ],
    'project',
  );
}

function standingFindings({ name }: ComparedCrate, standing: CrateState): Finding[] {
  if (standing === 'whole') return [];
  const words: Record<Exclude<CrateState, 'whole'>, string> = {
    unread: 'was not compared with its checksums since it was moved or written',
    changed: 'is not what it was: files in it were changed, added or are missing',
    gone: 'is not there any more',
  };
  return [warns('crate-not-whole', `${name} ${words[standing]}.`, 'What is missing or changed in it counts as not held.')];
}

function compareSources(snapshot: Snapshot, crate: ComparedCrate): { readonly rows: ComparedFile[]; readonly held: ReadonlySet<string> } {
  const stock = stockOf(snapshot);
  const choice = { timelineIds: snapshot.timelines.map(({ id }) => id), bins: [], clipIds: [], countDisabled: true };
  const usage = reportUsage(snapshot, choice);
  const byKey = new Map([...usage.items, ...usage.neverUsed].map((item) => [item.key, item]));
  const bySource = holdingsOf(crate);
  const byContent = new Map<string, string[]>();
  for (const { path, content } of mediaOf(crate)) if (content !== null) byContent.set(content, [...(byContent.get(content) ?? []), path]);
  const held = new Set<string>();
  const rows = new Map<string, ComparedFile>();
  for (const clip of snapshot.clips)
    for (const [position, link] of (sourceRendition(clip)?.links ?? []).entries()) {
      const key = usageKey(clip, link);
      const item = link.place ? stock.itemAt(link.place) : null;
      const same = (item?.content != null && byContent.get(item.content)) || [];
      const told = bySource.get(`${clip.sourceId ?? clip.id} ${position}`);
      for (const path of [...same, ...(told?.paths ?? [])]) held.add(path);
      const row = rowOf(clip, link, item, byKey.get(key)!, same.length > 0, told, stock);
      const known = rows.get(key);
      // Several clips of one file: what one of them tells is true of the file.
      if (!known || RANK.indexOf(row.change) < RANK.indexOf(known.change)) rows.set(key, row);
    }
  return { rows: [...rows.values()], held };
}

const RANK: readonly ComparedFile['change'][] = ['same', 'part', 'short', 'changed', 'added'];

function rowOf(
  clip: Clip,
  { place, expected, url }: MediaLink,
  item: Item | null,
  { used, lengthFrames, sizeBytes, name }: ItemUsage,
  isWhole: boolean,
  told: Holding | undefined,
  stock: StockView,
): ComparedFile {
  const path = place ? `${stock.shelfName(place.shelfId)}/${place.path}` : name || url || clip.name;
  const row = (change: ComparedFile['change'], words?: string): ComparedFile => ({ path, change, was: null, beforeBytes: null, afterBytes: sizeBytes, ...(words ? { words } : {}) }); // prettier-ignore
  if (isWhole) return row('same');
  if (!told) return row('added');
  if (comparePrints(told.print, item?.fingerprint ?? expected.fingerprint) === false) return row('changed');
  if (told.ranges === null) return row('same');
  const lacking = totalFrames(subtract(used, unite(told.ranges)));
  const frames = lengthFrames === null ? '' : ` of ${formatCount(lengthFrames)}`;
  return lacking === 0
    ? row('part', `${formatCount(totalFrames(unite(told.ranges)))}${frames}`)
    : row('short', `${formatCount(lacking)} of ${formatCount(totalFrames(used))} used`);
}

/** By source and position, what the timelines of a crate say that its files hold; files that it lacks hold nothing. */
function holdingsOf({ timelines, files }: ComparedCrate): Map<string, Holding> {
  const paths = new Set(files.map(({ path }) => path));
  const folders = new Map<string, string[]>();
  for (const { path } of files) folders.set(folderOf(path), [...(folders.get(folderOf(path)) ?? []), path]);
  const out = new Map<string, Holding>();
  for (const { folder, model } of timelines ?? [])
    for (const event of clipEvents(model.tracks)) {
      const reference = activeReference(event);
      const word = reference?.source;
      const own = word && pathsOf(reference.sequence?.folderUrl ?? reference.url, reference.sequence?.prefix ?? null, folder, paths, folders);
      if (word && own && own.length > 0) add(out, word, own);
    }
  return out;
}

function add(out: Map<string, Holding>, { id, position, print, part }: SourceWord, paths: readonly string[]): void {
  const key = `${id} ${position}`;
  const known = out.get(key);
  const ranges = part && (known ? known.ranges && [...known.ranges, part.range] : [part.range]);
  out.set(key, { ranges, print: known?.print ?? print, paths: [...(known?.paths ?? []), ...paths] });
}

/** Files of the crate that an address in one of its timelines leads to. `folder`: of that timeline. */
function pathsOf(
  url: string | null,
  prefix: string | null,
  folder: string,
  paths: ReadonlySet<string>,
  folders: ReadonlyMap<string, readonly string[]>,
): readonly string[] {
  const segments = readAddress(url ?? '')?.segments ?? [];
  const at: string[] = folder === '' ? [] : folder.split('/');
  for (const segment of segments) if (segment === '..') at.pop(); else if (segment !== '.' && segment !== '') at.push(segment); // prettier-ignore
  const path = joinPath(...at);
  if (prefix === null) return paths.has(path) ? [path] : [];
  return (folders.get(path) ?? []).filter((own) => fileName(own).startsWith(prefix));
}

/** Cuts by name; events by the source they show. */
function compareCuts(
  before: NonNullable<ComparedCrate['timelines']>,
  after: readonly TimelineSnapshot[],
  clips: readonly Clip[],
): ComparedTimeline[] {
  const sources = new Map(clips.map((clip) => [clip.id, clip.sourceId ?? clip.id]));
  return before.map(({ name, model }) => {
    const now = after.find((timeline) => timeline.model.name === name);
    if (!now) return { name, words: 'only in the crate' };
    const own = (event: ClipEvent) => sources.get(now.clipIds[event.index] ?? '') ?? sourceKey(event);
    return { name, words: changesOf(model, now.model, (version, event) => (version === 'before' ? sourceKey(event) : own(event))) };
  });
}
