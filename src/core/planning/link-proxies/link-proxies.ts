/** Renditions made elsewhere: found by their names, linked where frames, rate and timecode agree. */
import { mediaName } from '../../media/media-name';
import { fileName, placeKey, samePlace, type Item, type MediaFacts, type Place } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { splitExtension } from '../../naming/safe-name';
import { sourceRendition, type Clip, type Expected, type MediaLink } from '../../project/clip';
import { isOwnProxy, misfits, type FittedFacts } from '../../rendition/fits';
import { endingsOf, isBelowFolder, stemsOf } from '../../rendition/name-rules';
import { asks, notes, warns, type Finding } from '../../words/finding';
import { formatCount, plural, oneOrMany } from '../../words/figures';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { linkStep, precondition, type CatalogueChange } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { framesToSeconds } from '../../time/convert';
import { clipsInScope } from '../taking/clip-scope';
import { NO_TWINS, rivalOf, type AskTwins, type Twinned } from '../taking/twins';
import type { LinkProxiesSettings } from './settings';

/** Clips get one file as another rendition, once it was compared with the source that is there. */
export interface RenditionFound extends CatalogueChange {
  readonly type: 'rendition-found';
  readonly kind: LinkProxiesSettings['rendition'];
  readonly place: Place;
  readonly facts: MediaFacts;
  readonly burnIn: boolean;
  /** What its pictures are compared with; null where the source is not there, or the pictures may well differ. */
  readonly source: { readonly place: Place; readonly facts: MediaFacts } | null;
  readonly clips: readonly { readonly clipId: string; readonly sound: readonly MediaLink[] }[];
  /** The user named it: pictures that tell nothing do not keep it from being linked. */
  readonly isChosen?: true;
}

export interface FoundCandidate {
  readonly itemId: string;
  readonly place: Place;
  readonly bytes: number;
  readonly height: number;
  /** What does not agree, in words. */
  readonly misfits: readonly string[];
}

export interface FoundRow {
  readonly clipId: string;
  readonly name: string;
  readonly fate: 'linked' | 'offered' | 'unfit' | 'has one' | 'none';
  readonly why: string;
  readonly itemId: string | null;
  readonly candidates: readonly FoundCandidate[];
}

export interface FoundDetail {
  readonly rows: readonly FoundRow[];
  readonly looked: number;
}

const MOST_CANDIDATES = 8;

interface Match {
  readonly clip: Clip;
  readonly picture: MediaLink;
  readonly source: Item | null;
  readonly candidates: readonly (FoundCandidate & { readonly item: Item })[];
}

/** `items`: all that stands below the chosen folder; `twins`: other sources that the house knows, of whatever project. */
export function planLinkProxies(
  snapshot: Snapshot,
  settings: LinkProxiesSettings,
  items: readonly Item[],
  twins: AskTwins = NO_TWINS,
): Plan<FoundDetail> {
  const stock = stockOf(snapshot);
  const clips = clipsInScope(snapshot, settings.scope);
  // What stands for something else already: sources, and above all light copies where finished pictures are looked for.
  const others = new Set(snapshot.clips.flatMap((clip) => clip.renditions.flatMap((own) => (own.kind === settings.rendition && own !== sourceRendition(clip) ? [] : own.links.flatMap(({ place }) => (place ? [placeKey(place)] : [])))))); // prettier-ignore
  const looked = items.filter(
    ({ place, facts, problem }) =>
      (facts.kind === 'video' || facts.kind === 'sequence') && problem === null && !others.has(placeKey(place)) && isBelowFolder(place.path, settings.inFolders), // prettier-ignore
  );
  const byStem = stems(looked, endingsOf(settings.endings));
  const matches = clips.flatMap((clip) => matchOf(clip, byStem, stock, settings) ?? []);
  // Whoever fits two sources is told by nothing here: the user says whose it is.
  const wanted = new Map<string, Set<string>>();
  for (const { picture, candidates } of matches)
    for (const { itemId, misfits: wrong } of candidates) if (wrong.length === 0) wanted.set(itemId, (wanted.get(itemId) ?? new Set()).add(sourceKey(picture))); // prettier-ignore
  const isLooked = new Set(looked.map(({ id }) => id));
  const shelfName = (id: string) => stock.shelfName(id);
  const rivalIn = ({ picture, source, clip }: Match, item: Item): Item | null => {
    const own = twinnedOf(picture, source);
    const others = twins(own).filter(({ id }) => !isLooked.has(id));
    const fits = (twin: Item) =>
      stemsOf(mediaName(item.facts, fileName(item.place.path)), endingsOf(settings.endings)).includes(foldPath(splitExtension(mediaName(twin.facts, fileName(twin.place.path)))[0])) && misfits(twin.facts, item.facts, settings.rendition === 'finished' ? 'pictures' : 'elsewhere').length === 0; // prettier-ignore
    const links = sourceRendition(clip)?.links ?? [];
    return rivalOf(item, own, others.filter(({ place }) => !links.some((link) => samePlace(link.place, place))), fits, shelfName); // prettier-ignore
  };
  // A clip of the project that fits as well, whose folder does not tell either.
  const isShared = (match: Match, itemId: string) => {
    if ((wanted.get(itemId)?.size ?? 0) < 2) return false;
    const item = match.candidates.find((candidate) => candidate.itemId === itemId)!.item;
    const twinItems = matches.flatMap(
      (other) =>
      other !== match && other.source && sourceKey(other.picture) !== sourceKey(match.picture) && other.candidates.some((own) => own.itemId === itemId && own.misfits.length === 0) ? [other.source] : [], // prettier-ignore
    );
    // What is not there to be held against it is told by nothing.
    const isAllThere = twinItems.length > 0 && twinItems.length === wanted.get(itemId)!.size - 1;
    return !isAllThere || rivalOf(item, twinnedOf(match.picture, match.source), twinItems, () => true, shelfName) !== null;
  };
  const rows = matches.map((match) => rowOf(match, settings, isShared, rivalIn));
  const chosen = new Map<string, { item: Item; source: Item | null; clips: RenditionFound['clips'][number][] }>();
  for (const [index, { fate, itemId }] of rows.entries()) {
    if (fate !== 'linked') continue;
    const { clip, picture, source, candidates } = matches[index]!;
    const { item } = candidates.find((candidate) => candidate.itemId === itemId)!;
    const own = chosen.get(itemId!) ?? { item, source, clips: [] };
    own.clips.push({ clipId: clip.id, sound: (sourceRendition(clip)?.links ?? []).filter((link) => link !== picture) });
    chosen.set(itemId!, own);
  }
  const linked = rows.filter(({ fate }) => fate === 'linked');
  const count = (fate: FoundRow['fate']) => rows.filter((row) => row.fate === fate).length;
  const line = (label: string, fate: FoundRow['fate']) => (count(fate) > 0 ? [{ label, clips: count(fate) }] : []);
  const blocked = settings.place === null ? 'No folder is chosen.' : linked.length === 0 ? 'Nothing that fits was found.' : null;
  return {
    kind: 'link-proxies',
    title: `Link ${settings.rendition === 'proxy' ? 'proxies' : settings.rendition === 'mezzanine' ? 'mezzanines' : 'finished pictures'} made elsewhere`,
    projectId: snapshot.project.id,
    headline: { value: linked.length, of: rows.length, unit: 'clips', words: oneOrMany(linked.length, 'gets one', 'get one') },
    lines: [
      { label: 'Files looked at', text: formatCount(looked.length) },
      { label: 'Linked', files: chosen.size, bytes: [...chosen.values()].reduce((sum, { item }) => sum + item.sizeBytes, 0) },
      ...line('To be chosen', 'offered'),
      ...line('Found, but do not fit', 'unfit'),
      ...line('Have it already', 'has one'),
      ...line('Nothing found', 'none'),
      { label: 'Files', text: 'stay where they are' },
    ],
    fills: [],
    findings: findingsOf(rows, settings),
    steps: blocked
      ? []
      : [...chosen.values()].map(({ item, source, clips: own }) =>
          linkStep<RenditionFound>(
            0,
            own.length === 1 ? 'stands beside its source' : `stands beside the source of ${own.length} clips`,
            {
              type: 'rendition-found',
              kind: settings.rendition,
              place: item.place,
              facts: item.facts,
              burnIn: settings.burnIn,
              source: source && settings.rendition !== 'finished' ? { place: source.place, facts: source.facts } : null,
              clips: own,
              ...(own.every(({ clipId }) => settings.choices[clipId] === item.id) ? { isChosen: true as const } : {}),
            },
            { from: item.place, mustHold: precondition(item) },
          ),
        ),
    blocked,
    detail: { rows, looked: looked.length },
  };
}

function sourceKey({ place, url, expected }: MediaLink): string {
  return place ? placeKey(place) : `${url} ${expected.name}`;
}

function stems(items: readonly Item[], endings: readonly string[]): ReadonlyMap<string, readonly Item[]> {
  const out = new Map<string, Item[]>();
  for (const item of items) {
    for (const stem of stemsOf(mediaName(item.facts, fileName(item.place.path)), endings)) {
      const own = out.get(stem);
      if (own) own.push(item);
      else out.set(stem, [item]);
    }
  }
  return out;
}

function matchOf(clip: Clip, byStem: ReadonlyMap<string, readonly Item[]>, stock: StockView, settings: LinkProxiesSettings): Match | null {
  const links = sourceRendition(clip)?.links ?? [];
  const picture = links.find(({ expected, place }) => (place ? stock.itemAt(place)?.facts.kind : null) !== 'audio' && expected.kind !== 'audio');
  if (!picture) return null;
  const source = picture.place && stock.isAttached(picture.place.shelfId) ? stock.itemAt(picture.place) : null;
  if (source && isOwnProxy(source.facts)) return null;
  const facts = factsOf(picture.expected, source);
  const name = source ? mediaName(source.facts, fileName(source.place.path)) : picture.expected.name;
  const found = byStem.get(foldPath(splitExtension(name)[0])) ?? [];
  const candidates = found
    // A copy of the source is no other rendition of it.
    .filter(({ fingerprint }) => fingerprint === null || fingerprint !== (source?.fingerprint ?? picture.expected.fingerprint))
    .map((item) => ({
      item,
      itemId: item.id,
      place: item.place,
      bytes: item.sizeBytes,
      height: item.facts.video?.height ?? 0,
      misfits: misfits(facts, item.facts, settings.rendition === 'finished' ? 'pictures' : 'elsewhere'),
    })) // prettier-ignore
    .sort((a, b) => a.misfits.length - b.misfits.length)
    .slice(0, MOST_CANDIDATES);
  return { clip, picture, source, candidates };
}

function twinnedOf({ place, expected }: MediaLink, source: Item | null): Twinned {
  const { rate, startFrame, durationFrames, reel } = source?.facts ?? expected;
  const seconds = (frames: number | null) => (frames === null || rate === null ? null : framesToSeconds(frames, rate));
  return {
    place,
    name: source ? fileName(source.place.path) : expected.name,
    fingerprint: source?.fingerprint ?? expected.fingerprint,
    reel,
    startSeconds: seconds(startFrame),
    seconds: seconds(durationFrames),
    height: source?.facts.video?.height ?? null,
  };
}

/** What a rendition must agree with: of the source as it stands, or else as it is remembered. */
function factsOf(expected: Expected, source: Item | null): FittedFacts {
  if (source) return source.facts;
  const { rate, durationFrames, startFrame, reel, kind } = expected;
  return { rate, durationFrames, startFrame, reel, kind: kind ?? 'video', sequence: null, audio: null };
}

function rowOf(
  match: Match,
  settings: LinkProxiesSettings,
  isShared: (match: Match, itemId: string) => boolean,
  rivalIn: (match: Match, item: Item) => Item | null,
): FoundRow {
  const { clip, picture, source, candidates } = match;
  const row = (fate: FoundRow['fate'], why: string, itemId: string | null = null): FoundRow => ({
    clipId: clip.id,
    name: clip.name,
    fate,
    why,
    itemId,
    candidates: candidates.map(({ item: _item, ...candidate }) => candidate),
  });
  const linked = new Set(clip.renditions.flatMap(({ kind, links }) => (kind === settings.rendition && links[0]?.place ? [placeKey(links[0].place)] : []))); // prettier-ignore
  const fitting = candidates.filter(({ misfits: wrong }) => wrong.length === 0);
  const here = fitting.find(({ place }) => linked.has(placeKey(place)));
  if (here) return row('has one', 'it is linked already', here.itemId);
  if (candidates.length === 0) return row('none', settings.place === null ? 'no folder is chosen yet' : 'no file is called that');
  const choice = settings.choices[clip.id];
  if (choice === null) return row('offered', 'left out');
  const own = fitting.find(({ itemId }) => itemId === choice);
  if (own) return row('linked', 'as you chose', own.itemId);
  const [first] = fitting;
  if (!first) return row('unfit', candidates[0]!.misfits.join(', '));
  if (fitting.length > 1) return row('offered', `${fitting.length} files fit`);
  if (isShared(match, first.itemId)) return row('offered', 'it fits another source too');
  const rival = rivalIn(match, first.item);
  if (rival) return row('offered', `it fits another source too: ${rival.place.path}`);
  const known = source?.facts ?? picture.expected;
  if (known.durationFrames === null || known.rate === null) return row('offered', 'the length of its source is not known');
  // Timecode tells takes of one length apart; without it the pictures of the source do, when they are there.
  if (known.startFrame === null && (source === null || settings.rendition === 'finished')) return row('offered', 'its source has no timecode');
  return row('linked', known.startFrame === null ? 'name, frames, rate; pictures' : 'name, frames, rate, timecode', first.itemId);
}

function findingsOf(rows: readonly FoundRow[], { place, rendition, burnIn }: LinkProxiesSettings): Finding[] {
  const findings: Finding[] = [];
  if (place === null) findings.push(asks('no-folder', 'No folder is chosen.', 'Choose the shelf or folder in which they lie.'));
  const unfit = rows.filter(({ fate }) => fate === 'unfit');
  if (unfit.length > 0) findings.push(warns('unfit', `${plural(unfit.length, 'is', 'are')} found by name and ${oneOrMany(unfit.length, 'does', 'do')} not fit: ${unfit[0]!.why}${unfit.length > 1 ? ', and others' : ''}.`, 'They are not linked.')); // prettier-ignore
  if (rendition !== 'finished' && rows.some(({ fate }) => fate === 'linked'))
    findings.push(notes('compared', 'Before each is linked, five of its pictures are compared with its source, where that is there.'));
  if (burnIn) findings.push(notes('burned-in', 'They are marked as burned in, and never count as clean ones.'));
  return findings;
}
