import { readFile } from 'node:fs/promises';
import { fileName, folderOf, type Place } from '../../core/media/item';
import type { Finding } from '../../core/words/finding';
import type { Rate } from '../../core/time/rate';
import { rate as makeRate } from '../../core/time/rate';
import { bridgeFor, readBridges } from '../bridges/bridges';
import { runBridge } from '../bridges/run-bridge';
import type { House } from '../house';
import type { MatchChoice } from '../projects/match-sources';
import type { TimelineSource } from '../study';
import { endpoint, endpointWithBody, LARGEST_FILE_BYTES } from './endpoint';
import { notFound, Problem } from './problem';
import { projectOf } from './projects';
import { changeTimelineSchema, compareSchema, newTimelineSchema, previewSchema, type TimelineInput } from './schemas';

export const listTimelines = endpoint(({ house, params }) => house.study({ ask: 'timelines', projectId: params.project! }));

export const getTimeline = endpoint(({ house, params }) =>
  house.study({ ask: 'timeline', projectId: params.project!, timelineId: params.timeline! }),
);

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
async function open(house: House, body: TimelineInput, projectRate: Rate, signal: AbortSignal): Promise<Opened> {
  const uploaded = body.upload ? await house.uploads.file(body.upload) : null;
  if (body.upload && !uploaded) throw notFound('upload');
  const path = body.place ? house.mounts.resolve(body.place) : (uploaded?.path ?? null);
  const name = body.name ?? (body.place ? fileName(body.place.path) : (uploaded?.name ?? 'timeline'));
  if (path) await house.uploads.checkSize(path, LARGEST_FILE_BYTES);
  const base = {
    name,
    folder: body.place ? { shelfId: body.place.shelfId, path: folderOf(body.place.path) } : null,
    rate: body.rate ? makeRate(body.rate.num, body.rate.den) : projectRate,
  };
  const bridge = bridgeFor(readBridges(house.bridgesFile).bridges, name);
  if (!bridge) return { ...base, source: path ? { file: path } : { text: body.text! }, findings: [] };
  const content = path ? await readFile(path) : Buffer.from(body.text!, 'utf8');
  return { ...base, ...(await runBridge(bridge, name, content, signal).then(({ text, findings }) => ({ source: { text }, findings }))) };
}

function matchChoice({ scope, additions }: TimelineInput): MatchChoice {
  return { scope: scope ?? null, ...(additions ? { additions } : {}) };
}

/** What a file holds, before anything comes in. */
export const previewTimeline = endpointWithBody(previewSchema, async ({ house, params, body, request }) => {
  const { name: _name, ...opened } = await open(house, body, projectOf(house, params.project).rate, request.signal);
  return house.study({
    ask: 'preview',
    ...opened,
    ...(body.columns ? { columns: body.columns } : {}),
    match: body.match === false ? null : matchChoice(body),
  });
});

/** Brings in what a file holds: timelines, and clips of bins and lists. */
export const addTimeline = endpointWithBody(newTimelineSchema, async ({ house, params, body, request }) => {
  const project = projectOf(house, params.project);
  const { source, ...opened } = await open(house, body, project.rate, request.signal);
  const answer = await house.study({
    ask: 'bring-in',
    projectId: project.id,
    source,
    ...opened,
    ...(body.columns ? { columns: body.columns } : {}),
    match: body.match === false ? null : matchChoice(body),
  });
  if (body.upload) await house.uploads.forget(body.upload);
  house.tell({ type: 'changed' });
  return answer;
});

/** Takes the body as it is into a file of the server, so that a large one is never held in memory. */
export const addUpload = endpoint(async ({ house, query, request }) => {
  if (!request.body) throw new Problem(400, 'bad-body', 'There is no file in the request.', 'Send the file as the body.');
  return { upload: await house.uploads.take(request.body, query.get('name') ?? 'file', LARGEST_FILE_BYTES) };
});

/** Bridges of this server: what endings they take. Their commands are nobody's business here. */
export const listBridges = endpoint(({ house }) => {
  const { bridges, problem } = readBridges(house.bridgesFile);
  return { bridges: bridges.map(({ name, endings }) => ({ name, endings })), problem };
});

export const compareVersions = endpoint(({ house, params, query }) => {
  const checked = compareSchema.validate({ before: query.get('before'), after: query.get('after') });
  if (checked.error) throw new Problem(400, 'bad-query', checked.error.message, 'Name two timelines: ?before=…&after=…');
  return house.study({ ask: 'compare', projectId: params.project!, ...checked.value });
});

export const removeTimeline = endpoint(({ house, params }) => {
  const project = projectOf(house, params.project);
  const { timelines, clips } = house.catalogue;
  const id = timelines.followers(project.id).get(params.timeline!) ?? params.timeline!;
  if (!timelines.isOf(project.id, id)) throw notFound('timeline');
  house.catalogue.transaction(() => clips.removeUnused(timelines.remove(project.id, id)));
  house.tell({ type: 'changed' });
});

/** Counts the sources of a timeline, or of some of its events, in another way; it has another id from then on. */
export const changeTimeline = endpointWithBody(changeTimelineSchema, async ({ house, params, body }) => {
  const project = projectOf(house, params.project);
  const { sourceCount: count, events } = body;
  const wish = { count, ...(events ? { events } : {}) };
  const answer = await house.study({ ask: 'recount', projectId: project.id, timelineId: params.timeline!, wish });
  house.tell({ type: 'changed' });
  return answer;
});

/** Clips of a timeline that were matched as it came in go back to what the timeline says of them. */
export const removeMatches = endpoint(async ({ house, params }) => {
  const project = projectOf(house, params.project);
  const answer = await house.study({ ask: 'unmatch', projectId: project.id, timelineId: params.timeline! });
  house.tell({ type: 'changed' });
  return answer;
});
