/** Files of timelines on their way in: what they hold, and bringing it in. */
import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { previewClipList } from '../../core/interchange/clip-list/clip-list-reader';
import type { ColumnMap } from '../../core/interchange/clip-list/clip-list-types';
import { timelineFormat } from '../../core/interchange/timeline-formats';
import { readTimelineFile } from '../../core/interchange/read-timeline-file';
import type { Place } from '../../core/media/item';
import type { Rate } from '../../core/time/rate';
import type { Finding } from '../../core/words/finding';
import { notFound, unreadable } from '../errors/problem';
import { AddressBook } from '../projects/address-book';
import { bringIn, matchNamed, namedBy, type BroughtIn } from '../projects/bring-in';
import { countsAhead } from '../projects/counts-ahead';
import { decodeText } from '../projects/decode-text';
import type { MatchChoice } from '../projects/match-sources';
import { matchSummary } from '../projects/match-view';
import type { QuestionOf } from './question';
import type { Studying } from './studying';

/** A text, or the absolute path of a file that holds one. */
export type TimelineSource = { readonly text: string } | { readonly file: string };

interface Incoming {
  readonly source: TimelineSource;
  /** Where the document stands: its relative links resolve from there. */
  readonly folder: Place | null;
  readonly rate: Rate;
  readonly columns?: ColumnMap;
  /** What was said on the way here, kept with the timelines. */
  readonly findings: readonly Finding[];
  /** How media is looked for; null tells what the file holds alone, and links nothing but by address. */
  readonly match: MatchChoice | null;
}

async function textOf(source: TimelineSource) {
  return 'text' in source ? { text: source.text, findings: [] } : decodeText(await readFile(source.file));
}

async function previewOf({ catalogue, mounts }: Studying, { source, folder, rate, columns, findings, match }: Incoming) {
  const { text, findings: said } = await textOf(source);
  const file = readTimelineFile(text, rate, columns ? { columns } : {});
  const format = timelineFormat(file.format);
  const book = new AddressBook(catalogue, mounts, folder);
  const named = namedBy(file);
  const { matches, found } = catalogue.moment(() => {
    const matches = match && matchNamed(catalogue, mounts, book, named, match);
    return { matches, found: match ? countsAhead(book, file, named, matches) : file.findings };
  });
  return {
    matches: matches && matchSummary(matches, format?.statesRate === false ? rate : null),
    format: file.format,
    timelines: file.timelines.map(({ timeline, bins }) => ({
      name: timeline.name,
      bins,
      rate: timeline.rate,
      dropFrame: timeline.dropFrame,
      durationFrames: timeline.durationFrames,
      events: timeline.eventCount,
      tracks: timeline.tracks.length,
    })),
    clips: file.clips.length,
    findings: [...findings, ...said, ...found],
    table: format?.hasColumns ? previewClipList(text) : null,
    statesRate: format?.statesRate ?? true,
    /** Of its format, as people are told; null where it is none that is known. */
    title: format?.title ?? null,
  };
}

export type TimelinePreview = Awaited<ReturnType<typeof previewOf>>;

const preview: QuestionOf<Incoming, TimelinePreview> = { lane: 'read', answer: previewOf };

const bringInAsked: QuestionOf<Incoming & { readonly projectId: string; readonly name: string }, BroughtIn> = {
  lane: 'read',
  weight: 1,
  changes: true,
  async answer({ catalogue, mounts }, { projectId, source, name, folder, rate, columns, findings, match }) {
    if (!catalogue.projects.get(projectId)) throw notFound('project');
    const { text, findings: said } = await textOf(source);
    const read = readTimelineFile(text, rate, columns ? { columns } : {});
    const isEmpty = read.timelines.length + read.clips.length === 0;
    const stopped = isEmpty ? (read.findings.find((finding) => finding.severity === 'stops') ?? read.findings[0]) : null;
    if (stopped) throw unreadable(name, stopped);
    const file = { ...read, findings: [...findings, ...said, ...read.findings] };
    return bringIn(catalogue, mounts, projectId, file, name, folder, randomUUID, match);
  },
};

export const incomingQuestions = { preview, 'bring-in': bringInAsked };
