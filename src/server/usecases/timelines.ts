/** Timelines: looked at before they come in, brought in, counted otherwise, taken out. */
import { readFile } from 'node:fs/promises';
import type { ColumnMap } from '../../core/interchange/clip-list/clip-list-types';
import { fileName, folderOf, type Place } from '../../core/media/item';
import type { SourceCount } from '../../core/project/source-count';
import { rate as makeRate, type Rate } from '../../core/time/rate';
import type { Finding } from '../../core/words/finding';
import { bridgeFor, readBridges } from '../bridges/bridges';
import { runBridge } from '../bridges/run-bridge';
import { notFound, Problem } from '../errors/problem';
import type { MatchChoice } from '../projects/match-sources';
import type { TimelineSource } from '../questions/incoming';
import { LARGEST_FILE_BYTES } from '../uploads/uploads';
import { projectOf } from './projects';
import type { Actor, House } from './use-case';

export interface TimelineInput {
  readonly name?: string;
  readonly text?: string;
  readonly place?: Place;
  readonly upload?: string;
  readonly columns?: ColumnMap;
  /** Rate of a list, which states none; the project's where it is left out. */
  readonly rate?: { num: number; den: number };
  /** False links nothing but by address. */
  readonly match?: boolean;
  /** Where media is looked for: a shelf or a folder on it; on every shelf where it is left out. */
  readonly scope?: Place | null;
  /** What systems add to the names of files. */
  readonly additions?: string[];
}

interface Opened {
  readonly source: TimelineSource;
  readonly name: string;
  /** Where the document stands: its relative links resolve from there. */
  readonly folder: Place | null;
  /** What a bridge said. */
  readonly findings: readonly Finding[];
  readonly rate: Rate;
}

/** The file that is meant: its text, a place on a shelf, or an upload; turned into OTIO by a bridge where one takes its ending. */
async function open(house: House, input: TimelineInput, projectRate: Rate, signal: AbortSignal): Promise<Opened> {
  const uploaded = input.upload ? await house.uploads.file(input.upload) : null;
  if (input.upload && !uploaded) throw notFound('upload');
  const path = input.place ? house.mounts.resolve(input.place) : (uploaded?.path ?? null);
  const name = input.name ?? (input.place ? fileName(input.place.path) : (uploaded?.name ?? 'timeline'));
  if (path) await house.uploads.checkSize(path, LARGEST_FILE_BYTES);
  const base = {
    name,
    folder: input.place ? { shelfId: input.place.shelfId, path: folderOf(input.place.path) } : null,
    rate: input.rate ? makeRate(input.rate.num, input.rate.den) : projectRate,
  };
  const bridge = bridgeFor(readBridges(house.bridgesFile).bridges, name);
  if (!bridge) return { ...base, source: path ? { file: path } : { text: input.text! }, findings: [] };
  const content = path ? await readFile(path) : Buffer.from(input.text!, 'utf8');
  const { text, findings } = await runBridge(bridge, name, content, signal);
  return { ...base, source: { text }, findings };
}

/** How media is looked for, and which columns hold what. */
function readingOf({ columns, match, scope, additions }: TimelineInput): { columns?: ColumnMap; match: MatchChoice | null } {
  const choice = { scope: scope ?? null, ...(additions ? { additions } : {}) };
  return { ...(columns ? { columns } : {}), match: match === false ? null : choice };
}

type Incoming = TimelineInput & { readonly projectId: string; readonly signal: AbortSignal };

/** What a file holds, before anything comes in. */
export async function previewTimeline(house: House, _actor: Actor, { projectId, signal, ...input }: Incoming) {
  const { name: _name, ...opened } = await open(house, input, projectOf(house, projectId).rate, signal);
  return house.study({ ask: 'preview', ...opened, ...readingOf(input) });
}

/** Brings in what a file holds: timelines, and clips of bins and lists. */
export async function addTimeline(house: House, _actor: Actor, { projectId, signal, ...input }: Incoming) {
  const project = projectOf(house, projectId);
  const opened = await open(house, input, project.rate, signal);
  const answer = await house.study({ ask: 'bring-in', projectId: project.id, ...opened, ...readingOf(input) });
  if (input.upload) await house.uploads.forget(input.upload);
  house.changed('timelines', project.id);
  return answer;
}

/** Bridges of this server: what endings they take. Their commands are nobody's business here. */
export function bridgesHere(house: House) {
  const { bridges, problem } = readBridges(house.bridgesFile);
  return { bridges: bridges.map(({ name, endings }) => ({ name, endings })), problem };
}

interface OfTimeline {
  readonly projectId: string;
  readonly timelineId: string;
}

export function removeTimeline(house: House, _actor: Actor, { projectId, timelineId }: OfTimeline): void {
  const project = projectOf(house, projectId);
  const { timelines, clips } = house.catalogue;
  const id = timelines.followers(project.id).get(timelineId) ?? timelineId;
  if (!timelines.isOf(project.id, id)) throw notFound('timeline');
  house.catalogue.transaction(() => clips.removeUnused(timelines.remove(project.id, id)));
  house.changed('timelines', project.id);
}

/** Counts the sources of a timeline, or of some of its events, in another way; it has another id from then on. */
export async function recountTimeline(
  house: House,
  _actor: Actor,
  {
    projectId,
    timelineId,
    sourceCount: count,
    events,
  }: OfTimeline & { readonly sourceCount: SourceCount | null; readonly events?: readonly number[] },
) {
  const project = projectOf(house, projectId);
  const answer = await house.study({ ask: 'recount', projectId: project.id, timelineId, wish: { count, ...(events ? { events } : {}) } });
  house.changed('timelines', project.id);
  return answer;
}

/** Clips of a timeline that were matched as it came in go back to what the timeline says of them. */
export async function removeMatches(house: House, _actor: Actor, { projectId, timelineId }: OfTimeline) {
  const project = projectOf(house, projectId);
  const answer = await house.study({ ask: 'unmatch', projectId: project.id, timelineId });
  house.changed('timelines', project.id);
  return answer;
}

/** Takes a file as it comes into one of the server, so that a large one is never held in memory. */
export async function addUpload(house: House, _actor: Actor, { body, name }: { readonly body: Request['body']; readonly name: string }) {
  if (!body) throw new Problem('bad-body', 'There is no file in the request.', 'Send the file as the body.');
  return { upload: await house.uploads.take(body, name, LARGEST_FILE_BYTES) };
}
