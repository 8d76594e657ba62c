/** The evidence for a match: what the project remembers of a file against what stands on a shelf, fact by fact. */
import { formatCount, plural } from '../../words/figures';
import { comparePrints, readPrint } from '../../media/fingerprint';
import { fileName, type Item, type Place } from '../../media/item';
import type { Expected, MatchedBy, MediaLink } from '../../project/clip';
import { countsFrom } from '../../project/counting';
import { activeReference } from '../../project/timeline';
import { clamp, subtract, totalFrames, unite, type RangeSet } from '../../time/range';
import { nameKey } from '../../naming/sort-key';
import { sameRate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import { proofOf, tellingWords, type Sharer } from './proof';
import { framesRead, type EventUse } from '../taking/event-use';

/** One fact compared. `agrees` is null where one side does not know it. */
export interface Evidence {
  readonly fact: 'name' | 'size' | 'duration' | 'start timecode' | 'reel' | 'fingerprint' | 'checksum' | 'used parts';
  readonly expected: string;
  readonly found: string;
  readonly agrees: boolean | null;
}

/**
 * `proven`: same content; `matched`: by its name, reel or timecode, and no other file fits; `agrees`: all that is known is the
 * same, and at least a second fact beside the name; `offered`: look yourself.
 */
export type MatchStrength = 'proven' | 'matched' | 'agrees' | 'offered';

export interface Match {
  readonly itemId: string;
  readonly place: Place;
  readonly strength: MatchStrength;
  /** What proves it; null where nothing does. */
  readonly ground: string | null;
  /** Others that stand there have the same fingerprint: reading all of them tells whether they are copies. */
  readonly isShared: boolean;
  /** How it was found where its content tells nothing; null where it does. */
  readonly by: MatchedBy | null;
  /** What speaks against it, in words; empty where nothing does. */
  readonly against: string;
  /** It stands under the very name that is linked, and is another file. */
  readonly isStanding?: true;
  /** The sealed package it lies in; absent outside of any. */
  readonly crate?: string;
  /** Frame of the item that is read first: what to look at. */
  readonly lookFrame: number;
  readonly evidence: readonly Evidence[];
}

/** `sharers`: every file known to have or have had the item's fingerprint. */
export function matchOf(link: MediaLink, item: Item, uses: readonly EventUse[], sharers: readonly Sharer[]): Match {
  const { expected } = link;
  const { facts } = item;
  const own = fileName(item.place.path);
  const name = own === expected.name ? expected.name : own;
  const print = short(expected.fingerprint);
  const evidence: Evidence[] = [
    { fact: 'name', expected: expected.name || '–', found: name, agrees: expected.name === '' ? null : nameKey(expected.name) === nameKey(name) },
    compare('size', expected.sizeBytes, item.sizeBytes, (bytes) => `${formatCount(bytes)} bytes`),
    durationEvidence(expected, item),
    startEvidence(expected, item),
    {
      fact: 'reel',
      expected: expected.reel ?? '–',
      found: facts.reel ?? '–',
      agrees: expected.reel === null || facts.reel === null ? null : expected.reel.toLowerCase() === facts.reel.toLowerCase(),
    },
    {
      fact: 'fingerprint',
      expected: print,
      found: item.fingerprint === expected.fingerprint ? print : short(item.fingerprint),
      agrees: comparePrints(expected.fingerprint, item.fingerprint),
    },
    ...checksumEvidence(expected.sha256 ?? null, item.sha256 ?? null),
    coverage(item, uses),
  ];
  const proof = proofOf(expected, item, sharers);
  return {
    itemId: item.id,
    place: item.place,
    strength: proof.is === 'proven' ? 'proven' : strengthOf(evidence),
    ground: proof.is === 'proven' ? proof.ground : null,
    isShared: proof.is === 'shared' && facts.kind !== 'sequence',
    by: null,
    against: '',
    lookFrame: firstRead(item, uses),
    evidence,
  };
}

function firstRead({ facts }: Item, [first]: readonly EventUse[]): number {
  if (!first || facts.durationFrames === null) return 0;
  return Math.min(Math.max(0, framesRead(first, facts).start), Math.max(0, facts.durationFrames - 1));
}

function compare(fact: Evidence['fact'], expected: number | null, found: number | null, words: (value: number) => string): Evidence {
  const told = expected === null ? '–' : words(expected);
  return {
    fact,
    expected: told,
    // Told once where it is the same: there may be tens of thousands.
    found: found === expected ? told : found === null ? '–' : words(found),
    agrees: expected === null || found === null ? null : expected === found,
  };
}

function durationEvidence(expected: Expected, item: Item): Evidence {
  const unit = item.facts.kind === 'audio' ? 'samples' : 'frames';
  const { rate, durationFrames } = item.facts;
  const comparable = expected.rate !== null && rate !== null && sameRate(expected.rate, rate);
  const words = (value: number) => `${formatCount(value)} ${unit}`;
  if (comparable || expected.durationFrames === null || durationFrames === null)
    return compare('duration', expected.durationFrames, durationFrames, words);
  // Told at another rate (a sound file counted in picture frames): compare the lengths of time exactly.
  if (!expected.rate || !rate) return { ...compare('duration', expected.durationFrames, durationFrames, words), agrees: null };
  const same =
    BigInt(expected.durationFrames) * BigInt(expected.rate.den) * BigInt(rate.num) ===
    BigInt(durationFrames) * BigInt(rate.den) * BigInt(expected.rate.num);
  return { fact: 'duration', expected: `${expected.durationFrames} frames`, found: words(durationFrames), agrees: same };
}

function startEvidence(expected: Expected, item: Item): Evidence {
  const label = (frame: number | null, rate: Expected['rate']) =>
    frame === null || rate === null ? '–' : rate.num / rate.den > 1000 ? `sample ${frame}` : frameToTimecode(frame, rate, item.facts.dropFrame);
  const { startFrame, rate } = item.facts;
  const known = expected.startFrame !== null && startFrame !== null && expected.rate !== null && rate !== null;
  const agrees = known
    ? BigInt(expected.startFrame) * BigInt(expected.rate.den) * BigInt(rate.num) === BigInt(startFrame) * BigInt(rate.den) * BigInt(expected.rate.num)
    : null;
  return { fact: 'start timecode', expected: label(expected.startFrame, expected.rate), found: label(startFrame, rate), agrees };
}

/** Only where both are known. */
function checksumEvidence(expected: string | null, found: string | null): Evidence[] {
  if (expected === null || found === null) return [];
  return [{ fact: 'checksum', expected: expected.slice(0, 12), found: found.slice(0, 12), agrees: expected === found }];
}

/** The begin of its hash, and what was looked at. */
function short(fingerprint: string | null): string {
  if (fingerprint === null) return '–';
  const hash = readPrint(fingerprint)?.hash ?? fingerprint;
  return `${hash.slice(0, 8)} · ${tellingWords(fingerprint)}`;
}

/** Whether the file holds every frame the timelines read. */
function coverage(item: Item, uses: readonly EventUse[]): Evidence {
  const unit = item.facts.kind === 'audio' ? 'samples' : 'fr.';
  const length = item.facts.durationFrames;
  if (uses.length === 0) return { fact: 'used parts', expected: 'not used', found: '–', agrees: null };
  const used = unite(uses.map((use) => framesRead(use, item.facts)));
  const wanted = totalFrames(used);
  if (length === null) return { fact: 'used parts', expected: `${uses.length} events`, found: 'a still', agrees: null };
  const there = totalFrames(subtract(clamp(used, { start: 0, end: length }), gapsOf(item)));
  // Timecodes of a list that lie outside the file's own say nothing when they are counted from 0 instead.
  const fallsBack = uses.some((use) => countsFromZero(use, item));
  return {
    fact: 'used parts',
    expected: `${plural(uses.length, 'event')} · ${wanted} ${unit}`,
    found: `${there} of ${wanted} ${unit}`,
    agrees: there !== wanted ? false : fallsBack ? null : true,
  };
}

/** Frames that a sequence lacks, counted from its first. */
function gapsOf({ facts }: Item): RangeSet {
  const { sequence } = facts;
  return (sequence?.missingRuns ?? []).map(([first, last]) => ({ start: first - sequence!.firstNumber, end: last + 1 - sequence!.firstNumber }));
}

/** An event that states no start, and is counted from 0 though the file has a timecode. */
function countsFromZero({ use, clip, span }: EventUse, { facts }: Item): boolean {
  if (!facts.startFrame || activeReference(use.event)?.availableStart || clip.mediaStart) return false;
  return countsFrom(use.event, clip, facts, span)?.value === 0;
}

function strengthOf(evidence: readonly Evidence[]): 'agrees' | 'offered' {
  const of = (fact: Evidence['fact']) => evidence.find((entry) => entry.fact === fact)!.agrees;
  const against = evidence.some((entry) => entry.agrees === false);
  const content = [of('fingerprint'), of('size'), of('duration'), of('start timecode')].filter((agrees) => agrees === true).length;
  const identity = of('name') === true || of('reel') === true;
  // A list without lengths still tells reel and timecode: a file of that name and reel that holds the used parts agrees.
  const byTimecode = of('name') === true && of('reel') === true && of('used parts') === true;
  return !against && ((identity && content > 0) || byTimecode) ? 'agrees' : 'offered';
}
