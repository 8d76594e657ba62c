/** The events of a timeline whose sources run at another rate than it, and how their source timecode is counted. */
import type { MediaFacts } from '../media/item';
import { rateLabel, sameRate, type Rate } from '../time/rate';
import { isNormal } from '../time/retime';
import { frameToTimecode } from '../time/timecode';
import { plural } from '../words/figures';
import { notes, warns, type Finding } from '../words/finding';
import { ceilFrames } from './moment';
import { labelAt, settle, settleAll, speedOf, type CountFacts, type CountQuestion, type Settled, type SourceCount } from './source-count';
import { activeReference, clipEvents, type ClipEvent, type Timeline } from './timeline';

export interface CountedFile {
  /** The same for all events that read this file. */
  readonly key: string;
  readonly facts: Pick<MediaFacts, 'kind' | 'rate' | 'startFrame' | 'durationFrames' | 'dropFrame' | 'steadyRate'>;
}

export interface CountedEvent {
  readonly event: ClipEvent;
  readonly question: CountQuestion;
}

/** By the file: its events. Those that state no points of their own, or are found by number, are left out. */
export function eventsAtOtherRates(model: Timeline, fileOf: (event: ClipEvent) => CountedFile | null): Map<string, CountedEvent[]> {
  const found = new Map<string, CountedEvent[]>();
  for (const event of clipEvents(model.tracks)) {
    const { units, sourceIn } = event;
    // Whoever states where the file begins counts in time from there.
    if (activeReference(event)?.availableStart) continue;
    if (!sameRate(units, model.rate) || !sameRate(sourceIn.rate, units) || event.map || event.retimeUnknown) continue;
    const file = fileOf(event);
    const facts = file ? countFacts(file) : null;
    if (!file || !facts || sameRate(facts.rate, units)) continue;
    const own = { event, question: questionOf(event, facts, model) };
    const list = found.get(file.key);
    if (list) list.push(own);
    else found.set(file.key, [own]);
  }
  return found;
}

/** Frames of sound have no labels, those of a sequence have numbers; at a rate that varies a label is no frame. */
function countFacts({ facts: { kind, rate, startFrame, durationFrames, dropFrame, steadyRate } }: CountedFile): CountFacts | null {
  return kind === 'video' && rate !== null && steadyRate !== false ? { rate, startFrame, durationFrames, dropFrame } : null;
}

function questionOf(event: ClipEvent, facts: CountFacts, { rate, dropFrame }: Timeline): CountQuestion {
  const [first, last] = event.count?.labels ?? [null, null];
  const length = ceilFrames(event.sourceDuration, rate);
  const label = (frame: number) => frameToTimecode(frame, rate, dropFrame);
  const isPlain = isNormal(event.speed);
  return {
    rate,
    dropFrame,
    labels: { in: first ?? label(event.sourceIn.value), out: first !== null ? last : isPlain ? label(event.sourceIn.value + length) : null },
    recordFrames: length,
    facts,
  };
}

/** How every event is counted, and what is to be said of it. */
export interface CountsSettled {
  /** By the index of the event. */
  readonly counts: ReadonlyMap<number, SourceCount>;
  readonly findings: readonly Finding[];
}

export const COUNTED = 'source-count';

/** What was said of a list, without its labels at a higher rate once all events that have such are counted by their source. */
export function withoutSettled(findings: readonly Finding[], { tracks }: Timeline, isBySource: (event: ClipEvent) => boolean): readonly Finding[] {
  const isSettled = [...clipEvents(tracks)].every((event) => !event.count?.labels || isBySource(event));
  return isSettled ? findings.filter(({ code }) => code !== 'edl-source-count') : findings;
}

/**
 * `chosen`: for the whole list; null where the media decides. `atFirst`: what holds where that leaves it open. What is chosen
 * for one event holds for that alone.
 */
export function settleCounts(files: ReadonlyMap<string, readonly CountedEvent[]>, chosen: SourceCount | null, atFirst: SourceCount): CountsSettled {
  if (files.size === 0) return { counts: new Map(), findings: [] };
  const settled = new Map([...files].map(([key, events]) => [key, settle(events.map(({ question }) => question))]));
  const byFile = settleAll(settled, atFirst);
  const counts = new Map<number, SourceCount>();
  for (const [key, events] of files) for (const { event } of events) counts.set(event.index, event.count?.chosen ?? chosen ?? byFile.get(key)!);
  return { counts, findings: chosen === null ? wordsOf(files, settled, byFile) : [] };
}

function wordsOf(
  files: ReadonlyMap<string, readonly CountedEvent[]>,
  settled: ReadonlyMap<string, Settled>,
  byFile: ReadonlyMap<string, SourceCount>,
): Finding[] {
  const out: Finding[] = [];
  for (const count of ['source', 'list'] as const) {
    const own = [...files].filter(([key]) => byFile.get(key) === count && settled.get(key) !== 'neither');
    if (own.length === 0) continue;
    const events = own.reduce((sum, [, list]) => sum + list.length, 0);
    const question = own[0]![1][0]!.question;
    const rates = ratesOf(own.map(([, list]) => list[0]!.question.facts.rate));
    const whose = count === 'source' ? 'frames of their source' : `frames of the list (${rateLabel(question.rate)} fps)`;
    const isOpen = own.every(([key]) => settled.get(key) === 'open');
    const fits = isOpen ? 'Their media fits the other count too.' : 'Only this count fits their media.';
    const message = `Source timecode of ${plural(events, 'event')} (${plural(own.length, 'source')} at ${rates} fps) is counted in ${whose}. ${fits}`;
    const hint = isOpen ? 'Compare a picture of one event. The timeline sheet has the other count.' : 'The timeline sheet has the other count.';
    out.push(notes(COUNTED, message, hint));
  }
  const beyond = [...files].filter(([key]) => settled.get(key) === 'neither');
  const events = beyond.reduce((sum, [, list]) => sum + list.length, 0);
  if (events > 0)
    out.push(
      warns(
        'source-count-beyond',
        `${plural(events, 'event')} of ${plural(beyond.length, 'source')} at another rate than the list would read beyond the file, whichever way source timecode is counted.`,
        'Look at the media of these events: it may be another version of the file.',
      ),
    );
  return out;
}

function ratesOf(rates: readonly Rate[]): string {
  return [...new Set(rates.map(rateLabel))].join(' and ');
}

/** Where an event begins in its source, by the source's own count; null where that has no such label. */
export function countedBySourceAt({ event, question }: CountedEvent) {
  const { labels, facts, recordFrames, rate } = question;
  const start = labelAt(labels.in, facts);
  if (start === null) return null;
  const out = labels.out === null ? null : labelAt(labels.out, facts);
  // Only a speed that nobody stated was made of the lengths.
  const isMadeOfLengths = event.count?.labels != null && out !== null;
  const speed = isMadeOfLengths && out >= start ? speedOf(out - start, facts.rate, recordFrames, rate) : undefined;
  return { start, rate: facts.rate, speed };
}
