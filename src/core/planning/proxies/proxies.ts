/** Proxies and mezzanines: one encoded file for each source that clips of the scope read, linked beside it. */
import { isPlaceWithin } from '../../naming/within';
import { isIntraFrame } from '../../media/codec-traits';
import { missingFrames } from '../../media/image-sequence';
import { below, fileName, folderOf, placeKey, type Item, type Place, type SequenceFacts } from '../../media/item';
import { NameRegister, portableName, splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import {
  clipState,
  isInParts,
  isOfPart,
  isOffline,
  LINK_STATES,
  linkState,
  renditionState,
  sourceRendition,
  type Clip,
  type FileState,
  type LinkState,
  type MediaLink,
  type Rendition,
  type RenditionKind,
} from '../../project/clip';
import { isEmpty } from '../../rendition/burn-in';
import { fittingOf, isOlder, isOwnProxy, misfits } from '../../rendition/fits';
import { atHome, rootOf } from '../../rendition/homes';
import { sizeOf, sizeWords } from '../../rendition/picture-size';
import type { ReadOrder } from '../../rendition/read-order';
import { isMezzanineGrade, presetFor, presetOf, PRESETS, remainWords, type Preset, type PresetId } from '../../rendition/presets';
import { notes, warns, type Finding } from '../../words/finding';
import { fewNames, formatCount, formatDuration, plural, oneOrMany } from '../../words/figures';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { precondition, type EncodeStep } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import { newHomes } from '../taking/homes';
import { alternativesOf, sampleOf, type Alternatives } from './alternatives';
import { pixelsOf, rateOf, secondsFor, UNKNOWN_MACHINE, type Machine } from './pace';
import { expectedBytes, uprightOf } from './rendition-load';
import { beingMadeKey } from './rendition-changes';
import { cellsOf, type RenditionCell, type RenditionCells } from './rendition-cells';
import type { ProxySettings } from './settings';

/** Places of missing pictures in one sequence, from which it is no film any more. */
const MOST_GAPS = 500;

/** What becomes of a clip: it gets one, or why it gets none. */
export interface ProxyRow {
  readonly clipId: string;
  readonly name: string;
  readonly fate: 'made' | 'being made' | 'has one' | 'its own proxy' | 'not needed' | 'cannot';
  readonly why: string;
  /** Name of the preset that it really gets. */
  readonly preset: string | null;
  readonly width: number;
  readonly height: number;
  readonly bytes: number;
  readonly cells: RenditionCells;
  /** Its rendition of this kind stands there, but not where the new ones go. */
  readonly isElsewhere: boolean;
  /** How the clip would stand without the shelves that are left behind, in the order that is tried out. */
  readonly without: LinkState;
}

export interface ProxyDetail {
  readonly rows: readonly ProxyRow[];
  /** Bytes of what the scope has of each kind now. */
  readonly bytes: Readonly<Record<RenditionKind, number>>;
  /** Clips by their state now, and without the shelves that are left behind. */
  readonly states: { readonly now: StateCounts; readonly without: StateCounts };
  /** Timelines of which more or fewer events would be offline. */
  readonly timelines: readonly { readonly timelineId: string; readonly now: number; readonly then: number }[];
  /** Other presets and sizes for what is made; null where nothing is. */
  readonly alternatives: Alternatives | null;
  /** The order the project reads in. */
  readonly order: ReadOrder;
  /** How many clips have their rendition of this kind elsewhere than where the new ones go. */
  readonly elsewhere: number;
}

export type StateCounts = Readonly<Record<LinkState, number>>;

interface Making {
  readonly item: Item;
  readonly preset: Preset;
  readonly clips: (EncodeStep['clips'][number] & { readonly clip: Clip })[];
}

/** What is encoded for a clip: its source, or each part of it that is here. */
type Wanted = Pick<Making, 'item' | 'preset'> & Omit<EncodeStep['clips'][number], 'clipId'>;

type Fate = Pick<ProxyRow, 'fate' | 'why'> & { readonly preset?: Preset; readonly wanted?: readonly Wanted[] };

/** `standing`: paths below the destination folder that are taken; `machine`: see pace.ts; `onTheWay`: by beingMadeKey, the run that will make it. */
export function planProxies(
  snapshot: Snapshot,
  wanted: ProxySettings,
  standing: Iterable<string> = [],
  machine: Machine = UNKNOWN_MACHINE,
  onTheWay: ReadonlyMap<string, number> = new Map(),
): Plan<ProxyDetail> {
  const asked = presetOf(wanted.presetId);
  const settings = atHome(wanted, snapshot.project.homes?.[asked.for]);
  const stock = stockOf(snapshot);
  const left = stockThen(snapshot, settings);
  const clips = clipsInScope(snapshot, settings.scope);
  const fates = new Map(
    clips.map((clip) => [clip.id, fateOf(clip, stock, settings, machine.encoders, onTheWay.get(beingMadeKey(asked.for, clip.id)))]),
  );
  const makings = new Map<string, Making>();
  for (const clip of clips) {
    for (const { item, preset, ...of } of fates.get(clip.id)!.wanted ?? []) {
      const key = placeKey(item.place);
      const own = makings.get(key) ?? { item, preset, clips: [] };
      own.clips.push({ clip, clipId: clip.id, ...of });
      makings.set(key, own);
    }
  }
  const sources = [...makings.values()].map(({ item }) => item);
  const rateIn = rates(machine, sampleOf(sources), settings);
  const steps = encodeSteps([...makings.values()], snapshot, settings, standing, rateIn);
  const byItem = new Map(steps.map((step) => [placeKey(step.from!), step]));
  const root = rootOf(settings);
  const rows = clips.map((clip): ProxyRow => {
    const { fate, why, wanted = [], preset = wanted[0]?.preset } = fates.get(clip.id)!;
    const own = wanted.flatMap(({ item }) => byItem.get(placeKey(item.place)) ?? []);
    const { width = 0, height = 0 } = own[0]?.recipe ?? {};
    const cells = cellsOf(clip, stock);
    return {
      clipId: clip.id,
      name: clip.name,
      fate,
      why,
      preset: preset?.name ?? null,
      width,
      height,
      bytes: own.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0),
      cells,
      isElsewhere: isElsewhere(cells[asked.for], root),
      without: clipState(clip, left),
    };
  });
  const seconds = secondsFor(steps.map(({ facts, recipe }) => ({ pixels: pixelsOf(facts, recipe), pace: rateIn(recipe.presetId).secondsPerPixel })));
  const homes = newHomes(snapshot, settings.asHome && steps.length > 0 ? { [asked.for]: root } : {}, 0);
  const bytes = steps.reduce((sum, { expectedBytes }) => sum + expectedBytes, 0);
  const problem: Blocking | null =
    settings.folderName.trim() === ''
      ? { code: 'no-folder-name', message: 'The folder of the new files has no name.', hint: 'Type a name for it.' }
      : ((root && hiddenProblem(root.path)) ??
        destinationProblem(snapshot.shelves, settings.destination?.shelfId ?? '', bytes, ', a smaller picture, another preset or fewer clips'));
  const made = rows.filter(({ fate }) => fate === 'made');
  const count = (fate: ProxyRow['fate']) => rows.filter((row) => row.fate === fate).length;
  const nothing =
    clips.length === 0
      ? 'No clip is in what is chosen.'
      : steps.length === 0
        ? count('being made') > 0
          ? 'What is lacking is being made.'
          : 'Every clip that can have one has one.'
        : null;
  return {
    kind: 'proxies',
    title: `${asked.for === 'proxy' ? 'Make proxies' : 'Make mezzanines'}: ${asked.name}, ${sizeWords(settings.size)}`,
    projectId: snapshot.project.id,
    headline: { value: made.length, of: clips.length, unit: 'clips', words: oneOrMany(made.length, 'gets one', 'get one') },
    lines: [
      { label: 'Made', files: steps.length, bytes },
      ...(seconds === null ? [] : [{ label: 'Takes', text: `about ${formatDuration(seconds)}` }]),
      ...(count('being made') > 0 ? [{ label: 'Being made', text: beingMadeWords(rows) }] : []),
      ...(count('has one') > 0 ? [{ label: 'Have one that fits', text: formatCount(count('has one')) }] : []),
      ...(count('its own proxy') > 0 ? [{ label: 'Are their own proxies', text: formatCount(count('its own proxy')) }] : []),
      ...(count('not needed') > 0 ? [{ label: 'Need none', text: formatCount(count('not needed')) }] : []),
      ...(count('cannot') > 0 ? [{ label: 'Cannot be made now', text: formatCount(count('cannot')) }] : []),
      { label: 'Checks after the run', text: 'frame by frame' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings: [
      ...blockedBy(problem),
      ...(problem ? [] : homes.findings),
      ...heldFindings(sources, settings),
      ...proxyFindings(rows, asked, settings, machine.encoders),
    ],
    ...(seconds === null ? {} : { seconds }),
    steps: problem || steps.length === 0 ? [] : [...steps, ...homes.steps],
    blocked: problem?.message ?? nothing,
    detail: {
      rows,
      bytes: bytesOfKinds(rows),
      states: { now: countStates(clips, stock), without: countStates(clips, left) },
      timelines: stock === left ? [] : offlineByTimeline(snapshot, stock, left),
      alternatives: alternativesOf(sources, settings, snapshot.project.rate, machine),
      order: stock.readOrder,
      elsewhere: rows.filter((row) => row.isElsewhere).length,
    },
  };
}

/** "12, by run 7". */
function beingMadeWords(rows: readonly ProxyRow[]): string {
  const own = rows.filter(({ fate }) => fate === 'being made');
  return `${formatCount(own.length)}, ${[...new Set(own.map(({ why }) => why))].join(', ')}`;
}

function isElsewhere(cell: RenditionCell | null, root: Place | null): boolean {
  return root !== null && cell?.state === 'present' && cell.place !== null && !isPlaceWithin(cell.place, root);
}

/** What would be there without the shelves that are left behind, read in the order that is tried out. */
function stockThen(snapshot: Snapshot, { leave, order }: ProxySettings): StockView {
  const shelves = snapshot.shelves.map((shelf) => (leave.includes(shelf.id) ? { ...shelf, attached: false } : shelf));
  return stockOf({ ...snapshot, shelves, project: { ...snapshot.project, ...(order ? { readOrder: order } : {}) } });
}

/** Events of each timeline whose clips have nothing that is read, now and then; those alone where there is something to tell. */
function offlineByTimeline({ timelines, clips }: Snapshot, now: StockView, then: StockView): ProxyDetail['timelines'] {
  const isOut = (stock: StockView) => new Set(clips.filter((clip) => isOffline(clipState(clip, stock))).map(({ id }) => id));
  const [outNow, outThen] = [isOut(now), isOut(then)];
  return timelines.flatMap(({ id, clipIds }) => {
    const count = (out: ReadonlySet<string>) => clipIds.reduce((sum, clipId) => sum + (clipId !== null && out.has(clipId) ? 1 : 0), 0);
    const [offlineNow, offlineThen] = [count(outNow), count(outThen)];
    return offlineNow === offlineThen ? [] : [{ timelineId: id, now: offlineNow, then: offlineThen }];
  });
}

function countStates(clips: readonly Clip[], stock: StockView): StateCounts {
  const counts = Object.fromEntries(LINK_STATES.map((state) => [state, 0])) as Record<LinkState, number>;
  for (const clip of clips) counts[clipState(clip, stock)]++;
  return counts;
}

function bytesOfKinds(rows: readonly ProxyRow[]): ProxyDetail['bytes'] {
  const of = (kind: RenditionKind) => rows.reduce((sum, { cells }) => sum + (cells[kind]?.bytes ?? 0), 0);
  return { source: of('source'), mezzanine: of('mezzanine'), proxy: of('proxy'), finished: of('finished') };
}

function fateOf(clip: Clip, stock: StockView, settings: ProxySettings, encoders: Machine['encoders'], byRun: number | undefined): Fate {
  const asked = presetOf(settings.presetId);
  const source = sourceRendition(clip);
  const picture = source?.links.find(
    ({ expected, place }) => (place ? stock.itemAt(place)?.facts.kind : null) !== 'audio' && expected.kind !== 'audio',
  );
  if (!source || source.links.length === 0) return { fate: 'cannot', why: 'it has no source' };
  if (!picture) return asked.for === 'proxy' ? { fate: 'its own proxy', why: 'sound' } : { fate: 'not needed', why: 'sound is easy to play' };
  const item = picture.place ? stock.itemAt(picture.place) : null;
  if (item && isOwnProxy(item.facts))
    return asked.for === 'proxy' ? { fate: 'its own proxy', why: item.facts.kind } : { fate: 'not needed', why: 'a still' };
  if (item?.facts.video?.alpha && settings.alphaIsOwn && asked.for === 'proxy') return { fate: 'its own proxy', why: 'a graphic with alpha' };
  if (byRun !== undefined) return { fate: 'being made', why: `by run ${byRun}` };
  if (settings.onlyLacking && clip.renditions.some((rendition) => rendition.kind === asked.for && isGood(rendition, item, stock, settings)))
    return { fate: 'has one', why: 'it fits its source' };
  const state = linkState(picture, stock);
  if (state !== 'present' || !item)
    return settings.parts
      ? fateOfParts(clip, source.links.indexOf(picture), state, stock, settings, encoders)
      : { fate: 'cannot', why: isInParts(clip) ? 'only parts are here' : `its source is ${state}` };
  return fateOfItem(item, source.links.filter((link) => link !== picture), settings, encoders); // prettier-ignore
}

function fateOfItem(item: Item, sound: readonly MediaLink[], settings: ProxySettings, encoders: Machine['encoders']): Fate {
  const asked = presetOf(settings.presetId);
  const { facts } = item;
  if (!facts.video) return { fate: 'cannot', why: 'there is no picture in it' };
  if (facts.durationFrames === null) return { fate: 'cannot', why: 'its length is not known' };
  if ((facts.sequence?.missingRuns.length ?? 0) > MOST_GAPS)
    return { fate: 'cannot', why: `frames of it are missing in more than ${MOST_GAPS} places` };
  if (asked.for === 'mezzanine' && isMezzanineGrade(facts, isIntraFrame(facts))) return { fate: 'not needed', why: 'easy to play already' };
  const { preset, why } = presetFor(settings.presetId, facts);
  if (encoders && !encoders.has(preset.encoder)) return { fate: 'cannot', why: `the ffmpeg of this machine has no ${preset.encoder}, which ${preset.name} needs`, preset }; // prettier-ignore
  return { fate: 'made', why: why ?? '', wanted: [{ item, preset, sound }] };
}

/** Of its parts that are here: each that lacks one gets its own. `position`: of its picture; `state`: of its source. */
function fateOfParts(clip: Clip, position: number, state: FileState, stock: StockView, settings: ProxySettings, encoders: Machine['encoders']): Fate {
  const asked = presetOf(settings.presetId);
  const here = (clip.parts ?? []).flatMap((part) => {
    const item = part.position === position && linkState(part.links[0], stock) === 'present' ? stock.itemAt(part.links[0].place!) : null;
    return item && item.facts.kind !== 'audio' ? [{ part, item }] : [];
  });
  if (here.length === 0) return { fate: 'cannot', why: `its source is ${state}, and no part of it is here` };
  const lacking = settings.onlyLacking
    ? here.filter(
        ({ part, item }) => !clip.partCopies?.some((own) => own.kind === asked.for && isOfPart(own, part) && isGood(own, item, stock, settings)),
      )
    : here;
  if (lacking.length === 0) return { fate: 'has one', why: oneOrMany(here.length, 'its part has one', 'its parts have them') };
  const fates = lacking.map(({ part: { position: at, range }, item }) => {
    const own = fateOfItem(item, [], settings, encoders);
    return { ...own, wanted: own.wanted?.map((one) => ({ ...one, part: { position: at, range } })) };
  });
  const wanted = fates.flatMap((own) => own.wanted ?? []);
  const [first] = fates;
  return wanted.length === 0 ? first! : { fate: 'made', why: `of ${plural(wanted.length, 'part')} of it`, wanted };
}

/** Whether a rendition stands there, is of the source as it is, and is as clean as is asked for. */
function isGood(rendition: Rendition, source: Item | null, stock: StockView, settings: ProxySettings): boolean {
  if (renditionState(rendition, stock) !== 'present') return false;
  const [first] = rendition.links;
  const item = first?.place ? stock.itemAt(first.place) : null;
  if (!item) return false;
  if (settings.burnIn === null && rendition.made?.burnIn) return false;
  return !source || (misfits(source.facts, item.facts, fittingOf(rendition)).length === 0 && !isOlder(source, item, rendition.made ?? null));
}

type RateIn = (presetId: PresetId) => ReturnType<typeof rateOf>;

function rates(machine: Machine, sample: Item | null, settings: ProxySettings): RateIn {
  const known = new Map<PresetId, ReturnType<typeof rateOf>>();
  return (presetId) => {
    const own = known.get(presetId) ?? rateOf(machine, sample, presetId, settings);
    known.set(presetId, own);
    return own;
  };
}

function encodeSteps(
  makings: readonly Making[],
  snapshot: Snapshot,
  settings: ProxySettings,
  standing: Iterable<string>,
  rateIn: RateIn,
): EncodeStep[] {
  const names = new NameRegister(standing);
  const root = below(settings.destination ?? { shelfId: '', path: '' }, settings.folderName);
  return makings.map(({ item, preset, clips }): EncodeStep => {
    const { facts } = item;
    const rate = facts.rate ?? snapshot.project.rate;
    const upright = uprightOf(facts);
    const size = sizeOf(upright, settings.size);
    const stem = facts.sequence
      ? fileName(folderOf(item.place.path)) || trimEndOf(facts.sequence.prefix, /[._\- ]/) || 'frames'
      : splitExtension(fileName(item.place.path))[0];
    const path = names.claim(folderFor(item, clips[0]!.clip, snapshot, settings), `${portableName(stem)}.mov`);
    const burnIn = settings.burnIn && !isEmpty(settings.burnIn) ? settings.burnIn : null;
    return {
      action: 'encode',
      phase: 0,
      from: item.place,
      to: below(root, path),
      expectedBytes: expectedBytes(facts, preset, size, rate, settings.quality, settings.sound, rateIn(preset.id).bytesPerPixel),
      bytesExact: false,
      reason: `${preset.name}, ${size.width} × ${size.height}${burnIn ? ', burned in' : ''}`,
      mustHold: precondition(item),
      facts,
      frames: facts.sequence ? (snapshot.frames?.get(item.id) ?? null) : null,
      rendition: preset.for,
      recipe: {
        presetId: preset.id,
        ...(settings.quality === 0 ? {} : { quality: settings.quality }),
        ...(settings.sound === 'all' ? {} : { sound: settings.sound }),
        ...size,
        sequenceRate: facts.sequence ? rate : null,
        burnIn,
        ...(settings.slates && facts.sequence && facts.sequence.missingRuns.length > 0 ? { slates: slatesOf(facts.sequence) } : {}),
        clipName: clips[0]!.clip.name,
      },
      clips: clips.map(({ clip: _clip, ...own }) => own),
    };
  });
}

/** Missing frames, counted from the first. */
function slatesOf({ firstNumber, missingRuns }: SequenceFacts): (readonly [number, number])[] {
  return missingRuns.map(([first, last]) => [first - firstNumber, last - firstNumber] as const);
}

/** Sequences that get one though pictures of them are missing. */
function heldFindings(sources: readonly Item[], { slates }: ProxySettings): Finding[] {
  const held = sources.flatMap(({ place, facts: { sequence } }) => (sequence && missingFrames(sequence) > 0 ? [{ name: fileName(place.path), count: missingFrames(sequence) }] : [])); // prettier-ignore
  if (held.length === 0) return [];
  const count = held.reduce((sum, own) => sum + own.count, 0);
  const message = `${fewNames(held.map(({ name }) => name))} ${oneOrMany(held.length, 'lacks', 'lack')} ${plural(count, 'picture')}: the one before each stands in its place${slates ? ', with a line that says so' : ''}.`; // prettier-ignore
  return [warns('held', message, slates ? undefined : 'Have them marked where they are missing, below.')];
}

function folderFor({ place, facts }: Item, { name }: Clip, { shelves }: Snapshot, { layout }: ProxySettings): string {
  if (layout === 'flat') return '';
  if (layout === 'clip') return portableName(name || 'unnamed');
  if (layout === 'reel') return portableName(facts.reel ?? 'no reel');
  const shelf = shelves.find(({ id }) => id === place.shelfId)?.name ?? 'shelf';
  const folder = facts.sequence ? folderOf(folderOf(place.path)) : folderOf(place.path);
  return [shelf, ...folder.split('/')].filter((name) => name !== '').map(portableName).join('/'); // prettier-ignore
}

function proxyFindings(rows: readonly ProxyRow[], asked: Preset, { burnIn }: ProxySettings, encoders: Machine['encoders']): Finding[] {
  const findings: Finding[] = [];
  const clips = (count: number) => plural(count, 'clip');
  const instead = new Map<string, { preset: string; why: string; count: number }>();
  for (const { fate, why, preset } of rows) {
    if (fate !== 'made' || why === '' || preset === null) continue;
    const own = instead.get(`${preset} ${why}`) ?? { preset, why, count: 0 };
    own.count++;
    instead.set(`${preset} ${why}`, own);
  }
  for (const { preset, why, count } of instead.values())
    findings.push(warns('other-preset', `${clips(count)} ${oneOrMany(count, 'gets', 'get')} ${preset} instead of ${asked.name}: ${why}.`));
  const cannot = new Map<string, number>();
  for (const { fate, why } of rows) if (fate === 'cannot') cannot.set(why, (cannot.get(why) ?? 0) + 1);
  for (const [why, count] of cannot) {
    const missing = encoders && rows.find((row) => row.fate === 'cannot' && row.why === why && row.preset !== null);
    const preset = missing && PRESETS.find(({ name }) => name === missing.preset);
    findings.push(
      warns('no-proxy', `${clips(count)} ${oneOrMany(count, 'gets', 'get')} none: ${why}.`, preset ? remainWords(preset, encoders) : undefined),
    );
  }
  if (burnIn && !isEmpty(burnIn))
    findings.push(notes('burned-in', 'What is burned in stays in the picture: these are marked, and never count as clean ones.'));
  return findings;
}
