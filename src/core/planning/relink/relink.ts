/** Relink: where the media of offline clips stands now, with the evidence for each match. */
import { isPlaceWithin } from '../../naming/within';
import { comparePrints } from '../../media/fingerprint';
import { placeKey, samePlace, type Item, type Place } from '../../media/item';
import type { Expected, MediaLink } from '../../project/clip';
import { totalFrames, unite } from '../../time/range';
import { rateAsNumber } from '../../time/rate';
import { chosenAdditions, matchAll, type Candidates, type Wish } from '../../matching/match-all';
import { decisionWords, type LookedAt } from '../../matching/match-words';
import type { Decision } from '../../matching/decide';
import { againstWords, matchedBy, type Judged } from '../../matching/judge';
import { nameRank } from '../../matching/name-likeness';
import type { Told } from '../../matching/told';
import { isToldOnly, toldOfLink } from './told-link';
import { matchOf, type Evidence, type Match } from '../evidence/match-evidence';
import type { RelinkSettings } from './settings';
import { relinkStep, stepsOf, type Looked } from './relink-steps';
import { groupRows, isFindable, reasonKey, type RelinkGroup, type RelinkRow } from './relink-groups';
import type { ReasonDecision } from './settings';
import { notes, stops, warns, type Finding } from '../../words/finding';
import type { Sharer } from '../evidence/proof';
import type { Plan, PlanLine } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { stockOf, type StockView } from '../plan/stock-view';
import type { Offline, OfflineLink } from './offline';
import { plural } from '../../words/figures';

export interface RelinkDetail {
  readonly groups: readonly RelinkGroup[];
  readonly offline: number;
  readonly found: number;
  /** Clips that are read from copies, and whose linked files were moved. */
  readonly moved: number;
}

const MOST_MATCHES = 5;

/** An item of a clip that is to be found. */
export interface Wanted {
  readonly key: string;
  readonly expected: Expected;
  /** Where in time, seconds of its timecode, events read it; null where none does. */
  readonly aroundSeconds: number | null;
  /** What is told of media that was never linked to a file; null where its content is remembered. */
  readonly told: Told | null;
}

/** What may be it. */
export interface Found {
  /** In no order. */
  readonly items: readonly Item[];
  /** By fingerprint of these items: every file known to have or have had it. */
  readonly sharers: ReadonlyMap<string, readonly Sharer[]>;
  /** There are more that answer to its names, or to its reels; absent where there are not. */
  readonly isCut?: Candidates['isCut'];
}

/** By the key of what is wanted; each is asked for once, so it may be looked for then. */
export type FoundItems = Pick<ReadonlyMap<string, Found>, 'get'>;

/** What a relink must know of the stock: for each of these, the items that may be it. */
export function wantedByRelink(offline: Offline): Wanted[] {
  return [...offline.links, ...offline.gone].map((own) => {
    const { key, link } = own;
    const { expected } = link;
    const first = own.uses[0]?.use;
    const { startFrame, rate } = expected;
    const around = first ? first.source.start / rateAsNumber(first.rate) : startFrame !== null && rate ? startFrame / rateAsNumber(rate) : null;
    return { key, expected, aroundSeconds: around, told: toldOf(own) };
  });
}

function toldOf({ link, clip, uses }: OfflineLink): Told | null {
  return isToldOnly(link) ? toldOfLink(link, clip, uses) : null;
}

/** Media that is found by what is told of it: all of it together, since what most agree on ranks the files of each. */
function matchTold(snapshot: Snapshot, settings: RelinkSettings, offline: Offline, found: FoundItems, stock: StockView): ToldMatches {
  const kept = new Map<string, Found>();
  const wishes = offline.links.flatMap((own) => {
    const told = toldOf(own);
    return told ? [{ key: own.key, told, accepted: settings.choices[own.key] ?? null }] : [];
  });
  const additions = chosenAdditions(settings.additions);
  const candidates = ({ key }: Wish) => {
    const own = found.get(key) ?? NOTHING_FOUND;
    kept.set(key, own);
    return { items: own.items.filter(({ place }) => inScope(place, settings.scope)), isCut: own.isCut ?? WHOLE };
  };
  const isAttached = (id: string) => stock.isAttached(id);
  const shelfName = (id: string) => stock.shelfName(id);
  const decisions = matchAll(wishes, candidates, { additions, shelfName, isAttached });
  const attached = snapshot.shelves.filter((shelf) => shelf.attached).length;
  const looked = {
    shelfName,
    isAttached,
    shelves: settings.scope ? 1 : attached,
    unplugged: settings.scope ? 0 : snapshot.shelves.length - attached,
  };
  return { told: new Map(wishes.map(({ key, told }) => [key, told])), decisions, found: kept, looked };
}

interface ToldMatches {
  readonly told: ReadonlyMap<string, Told>;
  readonly decisions: ReadonlyMap<string, Decision>;
  readonly found: ReadonlyMap<string, Found>;
  readonly looked: LookedAt;
}

const WHOLE: Candidates['isCut'] = { names: false, reels: false };

/** `found`: for what wantedByRelink names, items on attached shelves; of what is only told, on any. */
export function planRelink(snapshot: Snapshot, settings: RelinkSettings, offline: Offline, found: FoundItems): Plan<RelinkDetail> {
  const stock = stockOf(snapshot);
  const isInScope = (item: Item) => stock.isAttached(item.place.shelfId) && inScope(item.place, settings.scope);
  const matched = matchTold(snapshot, settings, offline, found, stock);
  const look = (wanted: OfflineLink, isLookedAt: (item: Item) => boolean): Looked => {
    const { items, sharers } = matched.found.get(wanted.key) ?? found.get(wanted.key) ?? NOTHING_FOUND;
    const candidates = withStanding(items.filter(isLookedAt), wanted, stock);
    const decision = matched.decisions.get(wanted.key) ?? null;
    const why = decision ? decisionWords(matched.told.get(wanted.key)!, decision, matched.looked) : '';
    const row = rowOf(wanted, candidates, sharers, settings, stock, decision && { ...decision, told: matched.told.get(wanted.key)!, why });
    const byId = new Map(candidates.map((item) => [item.id, item]));
    const reads = row.reads.flatMap((id) => byId.get(id) ?? []);
    return { row, reads, links: relinkStep(row, wanted.clip, byId.get(row.chosen ?? '') ?? null, reads) };
  };
  // What is read from a copy is only told of where the very content stands on the shelf that it was linked on.
  const moved = offline.gone
    .map((wanted) => look(wanted, (item) => isInScope(item) && isMovedFile(item, wanted, stock)))
    .filter(({ row }) => row.matches[0] !== undefined && row.matches[0].strength !== 'offered');
  const rows = [...offline.links.map((wanted) => look(wanted, isInScope)), ...moved];
  const groups = groupRows(
    rows.map(({ row }) => row),
    stock,
  );
  const steps = stepsOf(rows);
  const links = steps.filter((step) => step.action === 'link').length;
  const checks = steps.filter((step) => step.action === 'check');
  const foundCount = rows.filter(({ row }) => row.matches.some((match) => match.strength !== 'offered')).length;
  const events = rows.filter(({ row }) => row.chosen !== null).reduce((sum, { row }) => sum + row.events, 0);
  const proven = rows.filter(
    ({ row }) => row.chosen !== null && row.matches.find((match) => match.itemId === row.chosen)?.strength === 'proven',
  ).length;
  const toRead = rows.filter(({ row }) => row.reads.length > 0).length;
  const matchedCount = rows.filter(({ row }) => row.chosen !== null && row.matches.find((match) => match.itemId === row.chosen)?.strength === 'matched').length; // prettier-ignore
  const waiting = rows.filter(({ row }) => row.state === 'unplugged' && row.chosen === null).length;
  const open = rows.filter(({ row }) => row.state !== 'unplugged' && row.state !== 'present' && row.chosen === null).length;
  const lines: PlanLine[] = [
    { label: 'Proven', clips: proven },
    ...(toRead > 0
      ? [
          { label: 'If copies of each other', clips: toRead },
          { label: 'Read whole first', files: checks.length, bytes: checks.reduce((sum, step) => sum + step.expectedBytes, 0) },
        ]
      : []),
    ...(matchedCount > 0 ? [{ label: 'Matched, not proven', clips: matchedCount }] : []),
    { label: 'Accepted by you', clips: links - proven - toRead - matchedCount },
    { label: 'Events made whole', text: String(events) },
    { label: 'Wait for a drive', clips: waiting },
    { label: 'Still open', clips: open },
    { label: 'In and out points', text: 'stay as they are' },
    { label: 'Can be undone', text: 'yes' },
    { label: 'Files moved or written', text: 'none' },
  ];
  const blocked = links === 0 ? (rows.length === 0 ? 'Nothing is offline.' : 'Nothing is chosen yet.') : null;
  return {
    kind: 'relink',
    title: `Relink ${plural(links, 'clip')}`,
    projectId: snapshot.project.id,
    headline: {
      value: links,
      of: rows.length,
      unit: 'clips',
      words: offline.links.length === 0 && moved.length > 0 ? 'are linked where they were moved to' : 'come back',
    },
    lines,
    fills: [],
    findings: relinkFindings(
      rows.map(({ row }) => row),
      settings,
      snapshot,
    ),
    steps,
    blocked,
    detail: { groups, offline: offline.links.length, found: foundCount - moved.length, moved: moved.length },
  };
}

function isMovedFile({ place, fingerprint }: Item, { link }: OfflineLink, stock: StockView): boolean {
  const isThere = place.shelfId === link.place!.shelfId && stock.crateAround(place) === null;
  return isThere && comparePrints(link.expected.fingerprint, fingerprint) === true;
}

/** Where another file stands under the linked name, that one too: it may be meant. */
function withStanding(items: readonly Item[], { link, state }: OfflineLink, stock: StockView): readonly Item[] {
  const standing = state === 'changed' && link.place ? stock.itemAt(link.place) : null;
  return standing && !items.some(({ id }) => id === standing.id) ? [...items, standing] : items;
}

function inScope(place: Place, scope: Place | null): boolean {
  return !scope || isPlaceWithin(place, scope);
}

const NOTHING_FOUND: Found = { items: [], sharers: new Map() };

/** What the word for a whole reason means for one of its clips; undefined where there is none. */
function decided(decision: ReasonDecision | undefined, matches: readonly Match[]): string | null | undefined {
  if (decision === undefined) return undefined;
  if (decision === 'take-new') return matches.find((match) => match.isStanding)?.itemId ?? null;
  return decision === 'take' && isFindable({ matches }) ? matches[0]!.itemId : null;
}

function rowOf(
  { key, clip, link, position, state, uses }: OfflineLink,
  items: readonly Item[],
  sharers: Found['sharers'],
  settings: RelinkSettings,
  stock: StockView,
  decision: ToldDecision | null,
): RelinkRow {
  const inCrate = ({ place }: Item) => stock.crateAround(place);
  const isStanding = ({ place }: Item) => state === 'changed' && samePlace(place, link.place);
  const candidates = (decision ? itemsIn(decision.order, items).slice(0, MOST_MATCHES) : items)
    // What is damaged helps nobody.
    .filter((item) => (item.facts.kind !== 'other' || link.expected.kind === 'other') && item.damage === undefined)
    .map((item): Match => {
      const match = matchOf(link, item, uses, sharers.get(item.fingerprint ?? '') ?? []);
      const crate = inCrate(item);
      return {
        ...match,
        ...(crate === null ? {} : { crate }),
        ...(isStanding(item) ? { isStanding: true as const, strength: 'offered' as const } : {}),
      };
    });
  const matches = decision
    ? candidates.map((match) => toldMatch(match, decision))
    : [...worthShowing(candidates.filter((match) => !match.isStanding)), ...candidates.filter((match) => match.isStanding)]
        .sort(
          (a, b) =>
            Number(a.isStanding ?? false) - Number(b.isStanding ?? false) ||
            Number(a.crate !== undefined) - Number(b.crate !== undefined) ||
            rank(a) - rank(b) ||
            nearness(b.place, link) - nearness(a.place, link) ||
            inPlaceOrder(a.place, b.place),
        )
        .slice(0, MOST_MATCHES);
  const verdict = decision?.verdict ?? null;
  const seen = { state, oldPlace: link.place, matches, verdict };
  const own = settings.choices[key] ?? (Object.hasOwn(settings.choices, key) ? null : decided(settings.reasons?.[reasonKey(seen, stock)], matches));
  const valid = own === undefined ? undefined : own === null ? null : matches.some((match) => match.itemId === own) ? own : undefined;
  // Without being asked only what is proven is taken, or will be before it is linked, and of what was never linked the only file that fits;
  // a clip whose drive is unplugged comes back by itself.
  const proven = matches.find((match) => match.strength === 'proven');
  const shared = proven ? [] : readable(candidates, items, sharers);
  const only = matches.find((match) => match.strength === 'matched');
  const automatic =
    state === 'missing' || state === 'damaged'
      ? (proven ?? matches.find((match) => match.isShared && shared.includes(match)) ?? only)?.itemId
      : undefined;
  const chosen = valid === undefined ? (automatic ?? null) : valid;
  const used = unite(uses.map(({ use }) => use.source));
  return {
    key,
    clipId: clip.id,
    position,
    name: clip.name,
    fileName: link.expected.name,
    state,
    oldPlace: link.place,
    oldUrl: link.url,
    events: uses.length,
    usedFrames: totalFrames(used),
    matches,
    chosen,
    reads: own === undefined && shared.some((match) => match.itemId === chosen) ? shared.map((match) => match.itemId) : [],
    reason: matches.length === 0 ? 'not found there' : matches[0]!.strength,
    verdict,
    why: decision?.why ?? '',
  };
}

interface ToldDecision extends Decision {
  readonly told: Told;
  readonly why: string;
}

function itemsIn(order: readonly Judged[], items: readonly Item[]): Item[] {
  const byId = new Map(items.map((item) => [item.id, item]));
  return order.flatMap(({ candidate }) => byId.get(candidate.id) ?? []);
}

/** A match of what was never linked goes by what is told of it; its facts are there to compare. */
function toldMatch(match: Match, { order, taken, verdict, told }: ToldDecision): Match {
  const own = order.find(({ candidate }) => candidate.id === match.itemId)!;
  const isTaken = taken?.candidate.id === match.itemId;
  // One file that only a reel speaks against, or that agrees in all that is known, is taken by one click for all of a reason.
  const isNear = ({ name, held, against }: Judged) => nameRank(name) > 0 && held !== null && against.every((reason) => reason === 'reel');
  const isTakenByClick = order.filter(isNear).length > 1 ? false : match.strength === 'agrees' || isNear(own);
  const strength = isTaken ? 'matched' : verdict === 'doubtful' && isTakenByClick ? 'agrees' : 'offered';
  return { ...match, strength, by: matchedBy(own), against: againstWords(own, told) };
}

/** Once something is proven, only what is proven; a mere shared reel counts only where it holds the used parts. */
function worthShowing(candidates: readonly Match[]): Match[] {
  const proven = candidates.filter((match) => match.strength === 'proven');
  if (proven.length > 0) return proven;
  const agrees = (match: Match, fact: Evidence['fact']) => match.evidence.find((entry) => entry.fact === fact)?.agrees === true;
  return candidates.filter((match) => match.isShared || agrees(match, 'name') || agrees(match, 'used parts'));
}

function rank(match: Match): number {
  return (
    (match.isShared ? 1 : { proven: 0, matched: 2, agrees: 2, offered: 3 }[match.strength]) * 10 -
    match.evidence.filter((entry) => entry.agrees === true).length
  );
}

/** All that have a fingerprint which stands for several files, whether they are shown or not, where every one of them can be read. */
function readable(candidates: readonly Match[], items: readonly Item[], sharers: Found['sharers']): Match[] {
  const shared = candidates.find((match) => match.isShared);
  const byId = new Map(items.map((item) => [item.id, item]));
  const print = byId.get(shared?.itemId ?? '')?.fingerprint ?? null;
  if (print === null || !(sharers.get(print) ?? []).every((sharer) => sharer.isGone || byId.has(sharer.itemId))) return [];
  return candidates.filter((match) => byId.get(match.itemId)!.fingerprint === print);
}

function inPlaceOrder(a: Place, b: Place): number {
  const [x, y] = [placeKey(a), placeKey(b)];
  return x < y ? -1 : x > y ? 1 : 0;
}

/** The likelier of two equal copies: on the shelf that was linked (a folder was renamed there), then by how many names at the end of both paths are the same. */
function nearness({ shelfId, path }: Place, link: MediaLink): number {
  const a = path.split('/').reverse();
  const b = (link.place?.path ?? link.url).split('/').reverse();
  let same = 0;
  while (same < a.length && same < b.length && a[same] === b[same]) same++;
  return same + (shelfId === link.place?.shelfId ? 1_000 : 0);
}

function relinkFindings(rows: readonly RelinkRow[], settings: RelinkSettings, snapshot: Snapshot): Finding[] {
  const findings: Finding[] = [];
  const changed = rows.filter((row) => row.state === 'changed' && row.chosen === null).length;
  if (changed > 0)
    findings.push(
      warns('changed', `${plural(changed, 'file has', 'files have')} changed under the same name.`, 'Left as they are until you have looked.'),
    );
  for (const row of rows) {
    const match = row.matches.find((entry) => entry.itemId === row.chosen);
    const short = match?.evidence.find((entry) => entry.fact === 'used parts' && entry.agrees === false);
    if (short)
      findings.push(
        warns(
          'frames-short',
          `${row.name}: the chosen file holds ${short.found} that the timelines use.`,
          'Choose another file, or accept that frames will lack.',
          row.clipId,
        ),
      );
  }
  const agreeing = rows.filter(
    (row) => row.chosen === null && row.verdict === null && row.state === 'missing' && row.matches[0]?.strength === 'agrees',
  ).length;
  const matched = rows.filter((row) => row.chosen !== null && row.matches.find(({ itemId }) => itemId === row.chosen)?.strength === 'matched').length;
  if (matched > 0)
    findings.push(
      notes(
        'matched',
        `${plural(matched, 'clip is', 'clips are')} matched by name, reel or timecode. This is no proof.`,
        'Compare a few pictures before you run the plan.',
      ),
    );
  if (agreeing > 0)
    findings.push(
      notes(
        'not-proven',
        `${plural(agreeing, 'match agrees', 'matches agree')} in all that is known but cannot be proven.`,
        'Look at the evidence and accept.',
      ),
    );
  const scope = settings.scope ? snapshot.shelves.find((shelf) => shelf.id === settings.scope!.shelfId) : null;
  if (scope && !scope.attached)
    findings.push(stops('scope-unplugged', `${scope.name} is not plugged in, so nothing can be found on it.`, 'Plug it in or look somewhere else.'));
  return findings;
}
