import { randomUUID } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import { fileName, folderOf, type Place } from '../../core/media/item';
import { bringIn } from '../projects/bring-in';
import { timelineSummary, timelineView } from '../projects/timeline-views';
import { readTimelineInWorker } from '../workers/pool';
import { endpoint, endpointWithBody, LARGEST_BODY_BYTES } from './endpoint';
import { notFound, Problem } from './problem';
import { projectOf, snapshotOf } from './projects';
import { newTimelineSchema } from './schemas';

export const listTimelines = endpoint(async ({ house, params }) => {
  const { project, snapshot } = await snapshotOf(house, params.project);
  const rows = new Map(house.catalogue.timelines.ofProject(project.id).map((row) => [row.id, row]));
  return snapshot.timelines.map((timeline) => timelineSummary(rows.get(timeline.id)!, timeline, snapshot));
});

/** Brings in the text of a timeline, or a file on a shelf (whose relative links then resolve from its folder). */
export const addTimeline = endpointWithBody(newTimelineSchema, async ({ house, params, body }) => {
  const project = projectOf(house, params.project);
  const name = body.name ?? (body.place ? fileName(body.place.path) : 'timeline');
  const text = body.place ? await readPlace(house.mounts.resolve(body.place)) : body.text!;
  const folder: Place | null = body.place ? { shelfId: body.place.shelfId, path: folderOf(body.place.path) } : null;
  const file = await readTimelineInWorker({ text, projectRate: project.rate });
  const stopped =
    file.timelines.length + file.clips.length === 0 ? (file.findings.find((finding) => finding.severity === 'stops') ?? file.findings[0]) : null;
  if (stopped) throw new Problem(400, stopped.code, `${name}${stopped.where ? `, ${stopped.where}` : ''}: ${stopped.message}`, stopped.hint);
  const done = bringIn(house.catalogue, house.mounts, project.id, file, name, folder, randomUUID);
  house.tell({ type: 'changed' });
  return { ...done, findings: file.findings };
});

async function readPlace(path: string): Promise<string> {
  const info = await stat(path).catch(() => null);
  if (!info?.isFile()) throw notFound('file');
  if (info.size > LARGEST_BODY_BYTES) throw new Problem(413, 'too-large', `The file is larger than ${LARGEST_BODY_BYTES} bytes.`);
  return readFile(path, 'utf8');
}

export const getTimeline = endpoint(async ({ house, params }) => {
  const { project, snapshot } = await snapshotOf(house, params.project);
  const row = house.catalogue.timelines.ofProject(project.id).find((entry) => entry.id === params.timeline);
  const timeline = snapshot.timelines.find((entry) => entry.id === params.timeline);
  if (!row || !timeline) throw notFound('timeline');
  return timelineView(row, timeline, snapshot);
});

export const removeTimeline = endpoint(({ house, params }) => {
  const project = projectOf(house, params.project);
  if (!house.catalogue.timelines.ofProject(project.id).some((row) => row.id === params.timeline)) throw notFound('timeline');
  house.catalogue.transaction(() => house.catalogue.clips.removeUnused(house.catalogue.timelines.remove(project.id, params.timeline!)));
  house.tell({ type: 'changed' });
});
