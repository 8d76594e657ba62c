/** Media is decoded before it is trusted: every frame that is used, or every frame there is. Nothing is written. */
import { fileName, placeKey, type Item } from '../../media/item';
import { missingFrames, presentNumbers } from '../../media/image-sequence';
import { subtract, totalFrames, unite, type FrameRange } from '../../time/range';
import { fewNames, formatBytes, formatCount, plural, oneOrMany } from '../../words/figures';
import { asks, notes, stops, warns, type Finding } from '../../words/finding';
import type { Plan } from '../plan/plan';
import { linkStep, precondition, type CatalogueChange, type Step } from '../plan/step';

/** Ends the run with how many frames decode, where all of them did. */
export interface AllDecoded extends CatalogueChange {
  readonly type: 'all-decoded';
}

/** An item and the frames of it that are wanted, counted from its first, half-open. */
export interface WantedFrames {
  readonly item: Item;
  readonly ranges: readonly FrameRange[];
}

export interface DecodeInput {
  readonly projectId: string | null;
  /** "the frames that Fine cut uses", "all media in CARD_07". */
  readonly words: string;
  readonly wanted: readonly WantedFrames[];
  /** Names of clips that cannot be read now. */
  readonly offline: readonly string[];
  /** By the content of an item: frames that were decoded before. */
  readonly known: ReadonlyMap<string, readonly FrameRange[]>;
  readonly isChosen: boolean;
}

export interface DecodeRow {
  readonly itemId: string;
  readonly name: string;
  readonly place: Item['place'];
  /** Frames to decode, and those that were before. Samples of sounds. */
  readonly frames: number;
  readonly before: number;
  readonly isSound: boolean;
  readonly damage: string | null;
}

export interface DecodeDetail {
  readonly rows: readonly DecodeRow[];
}

/** All frames of an item; one of a still. */
export function allFrames({ facts }: Item): FrameRange[] {
  const length = facts.kind === 'still' ? 1 : (facts.durationFrames ?? 0);
  return length > 0 ? [{ start: 0, end: length }] : [];
}

export function planDecode({ projectId, words, wanted, offline, known, isChosen }: DecodeInput, again: boolean): Plan<DecodeDetail> {
  const media = wanted.filter(({ item }) => item.facts.kind !== 'other' && item.problem === null);
  const split = media.map(({ item, ranges }) => {
    const all = unite(ranges);
    const left = again || item.content === undefined ? all : subtract(all, known.get(item.content) ?? []);
    return { item, left, all };
  });
  const due = split.filter(({ left }) => left.length > 0);
  const steps: Step[] = due.map(({ item, left, all }) => ({
    action: 'check',
    phase: 0,
    from: item.place,
    to: null,
    expectedBytes: Math.ceil((item.sizeBytes * totalFrames(left)) / Math.max(1, totalFrames(allFrames(item)), totalFrames(all))),
    bytesExact: false,
    reason: 'decode every frame',
    mustHold: precondition(item),
    sha256: null,
    decode: { facts: item.facts, ranges: left, content: item.content ?? null },
  }));
  const done = linkStep<AllDecoded>(1, 'all of it decodes', { type: 'all-decoded' });
  const isPicture = ({ item }: { readonly item: Item }) => item.facts.kind !== 'audio';
  const frames = (list: typeof split, of: 'left' | 'all') => list.filter(isPicture).reduce((sum, own) => sum + framesIn(own.item, own[of]), 0);
  const sounds = due.filter((own) => !isPicture(own)).length;
  const bytes = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
  const before = split.length - due.length;
  const findings = decodeFindings(media, offline, isChosen, before > 0 && due.length === 0);
  const stop = findings.find(({ severity }) => severity === 'stops' || severity === 'asks');
  return {
    kind: 'decode',
    title: `Decode ${words}`,
    projectId,
    headline: { value: due.length, of: split.length, unit: 'files', words: 'to decode' },
    lines: [
      { label: 'Frames to decode', text: formatCount(frames(due, 'left')) },
      ...(sounds > 0 ? [{ label: 'Sound files', files: sounds }] : []),
      ...(before > 0 ? [{ label: 'Decoded before', files: before }] : []),
      { label: 'To read', text: formatBytes(bytes) },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: [],
    findings,
    steps: stop || due.length === 0 ? [] : [...steps, done],
    blocked: stop?.message ?? (due.length === 0 ? 'Every frame was decoded before.' : null),
    detail: {
      rows: split.map(({ item, left, all }) => ({
        itemId: item.id,
        name: fileName(item.place.path),
        place: item.place,
        frames: framesIn(item, left),
        before: framesIn(item, all) - framesIn(item, left),
        isSound: item.facts.kind === 'audio',
        damage: item.damage ?? null,
      })),
    },
  };
}

/** Frames that are there: a sequence may have holes. */
function framesIn({ facts: { sequence } }: Item, ranges: readonly FrameRange[]): number {
  if (!sequence || missingFrames(sequence) === 0) return totalFrames(ranges);
  return ranges.reduce((sum, range) => sum + presentNumbers(sequence, range).length, 0);
}

function decodeFindings(media: readonly WantedFrames[], offline: readonly string[], isChosen: boolean, isDone: boolean): Finding[] {
  const damaged = media.filter(({ item }) => item.damage !== undefined).map(({ item }) => fileName(item.place.path));
  const empty = isChosen
    ? stops('nothing-to-decode', 'There is no media in what is chosen that can be read now.', 'Choose another folder, or relink first.')
    : asks('nothing-chosen', 'Nothing is chosen.', 'Choose timelines or a folder.');
  return [
    ...(media.length === 0 ? [empty] : []),
    ...(offline.length > 0
      ? [
          warns(
            'decode-offline',
            `${fewNames(offline)} ${oneOrMany(offline.length, 'is', 'are')} offline and cannot be decoded.`,
            'Relink first, or go on without.',
          ),
        ]
      : []),
    ...(damaged.length > 0
      ? [
          warns(
            'decode-damaged',
            `${fewNames(damaged)} ${oneOrMany(damaged.length, 'is', 'are')} known to be damaged.`,
            'Decoding tells which frames.',
          ),
        ]
      : []),
    ...(isDone ? [notes('decode-done', `${plural(media.length, 'file was', 'files were')} decoded before and not written to since.`)] : []),
  ];
}

/** Each item once, with all the frames that are wanted of it. */
export function together(wanted: readonly WantedFrames[]): WantedFrames[] {
  const byPlace = new Map<string, { item: Item; ranges: FrameRange[] }>();
  for (const { item, ranges } of wanted) {
    const own = byPlace.get(placeKey(item.place)) ?? { item, ranges: [] };
    own.ranges.push(...ranges);
    byPlace.set(placeKey(item.place), own);
  }
  return [...byPlace.values()].map(({ item, ranges }) => ({ item, ranges: unite(ranges) }));
}
