/** All a planner needs of a project. Parts are read when they are first looked at, and kept while nothing in them is another. */
import { readTimeline } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import type { Item } from '../../core/media/item';
import type { ShelfSnapshot, Snapshot, TimelineSnapshot } from '../../core/planning/plan/snapshot';
import type { Clip } from '../../core/project/clip';
import { readsOf, type TimelineReads } from '../../core/project/reads';
import type { Timeline } from '../../core/project/timeline';
import type { Rate } from '../../core/time/rate';
import type { Catalogue } from '../catalogue/catalogue';
import type { ClipLine } from '../catalogue/clip-lines';
import type { EventClips } from '../catalogue/timeline-reads';
import { linesOf, type ProjectLines } from './project-lines';
import { PlanRequestError } from '../errors/problem';
import type { Mounts } from '../stock/mounts';
import { NO_WISH } from '../../core/project/reading';
import { attachedIn, readClips, readingWish } from './reading';

/** Models are large: about so many events of them are kept. */
const MOST_EVENTS_KEPT = 50_000;
/** Documents never change once brought in, so their models can be kept; the one used last is the last. */
const models = new Map<string, { model: Timeline; document: OtioObject }>();
let eventsKept = 0;

function modelOf(catalogue: Catalogue, id: string, rate: Rate) {
  const known = models.get(id);
  if (known) {
    models.delete(id);
    models.set(id, known);
    return known;
  }
  const text = catalogue.timelines.document(id);
  if (text === null) throw new PlanRequestError('A timeline was removed meanwhile. Look again.');
  const document = JSON.parse(text) as OtioObject;
  const model = readTimeline(document, rate);
  if (!model) throw new PlanRequestError(`The timeline ${id} cannot be read any more. Remove it, and bring it in again.`);
  const read = { model, document };
  models.set(id, read);
  eventsKept += model.eventCount;
  for (const [oldest, { model: old }] of models) {
    if (eventsKept <= MOST_EVENTS_KEPT || oldest === id) break;
    models.delete(oldest);
    eventsKept -= old.eventCount;
  }
  return read;
}

export async function shelfSnapshots(catalogue: Catalogue, mounts: Mounts): Promise<ShelfSnapshot[]> {
  return Promise.all(
    catalogue.shelves.list().map(async (shelf): Promise<ShelfSnapshot> => {
      const root = mounts.rootOf(shelf.id);
      if (root === null)
        return {
          id: shelf.id,
          name: shelf.name,
          kind: shelf.kind,
          attached: false,
          writable: false,
          capacityBytes: shelf.capacityBytes,
          freeBytes: shelf.freeBytes,
        };
      const space = await mounts.space(root);
      catalogue.shelves.sawIfRoom(shelf.id, new Date().toISOString(), space.capacityBytes, space.freeBytes);
      const disk = mounts.driveOf(shelf.id);
      return { id: shelf.id, name: shelf.name, kind: shelf.kind, attached: true, ...space, ...(disk === null ? {} : { disk }) };
    }),
  );
}

/** What is kept of a project, each part read once, when somebody looks at it: what lists and heads tell needs no timeline. */
class Reading implements Pick<Snapshot, 'timelines'> {
  private ownTimelines: readonly TimelineSnapshot[] | null = null;
  private ownLines: readonly ClipLine[] | null = null;

  constructor(
    readonly made: string,
    private readonly catalogue: Catalogue,
    private readonly project: Snapshot['project'],
  ) {}

  get clipsRead(): number {
    return this.ownLines?.length ?? 0;
  }

  get lines(): readonly ClipLine[] {
    return (this.ownLines ??= this.catalogue.clips.lines(this.project.id));
  }

  get timelines(): readonly TimelineSnapshot[] {
    return (this.ownTimelines ??= this.catalogue.timelines
      .entries(this.project.id)
      .map(({ id, name }) => new TimelineReading(id, name, this.catalogue, this.project.rate)));
  }
}

/** One timeline, read when it is looked at. */
class TimelineReading implements TimelineSnapshot {
  private own: EventClips | null = null;

  constructor(
    readonly id: string,
    readonly name: string,
    private readonly catalogue: Catalogue,
    private readonly rate: Rate,
  ) {}

  get model(): Timeline {
    return modelOf(this.catalogue, this.id, this.rate).model;
  }

  get document(): OtioObject {
    return modelOf(this.catalogue, this.id, this.rate).document;
  }

  /** What cannot be read is told by its model. */
  get reads(): TimelineReads {
    return this.catalogue.timelines.readsOf(this.id) ?? readsOf(this.model, this.clipIds, this.positions);
  }

  get clipIds(): EventClips['clipIds'] {
    return this.eventClips.clipIds;
  }

  get positions(): EventClips['positions'] {
    return this.eventClips.positions;
  }

  private get eventClips(): EventClips {
    return (this.own ??= this.catalogue.timelines.eventClips(this.id));
  }
}

/** Of so many projects what was read is kept, while their clips are no more than these; of the one looked at last always. */
const MOST_READINGS = 3;
const MOST_CLIPS_KEPT = 30_000;
const readings = new WeakMap<Catalogue, Map<string, Reading>>();

function readingOf(catalogue: Catalogue, project: Snapshot['project']): Reading {
  const own = readings.get(catalogue) ?? new Map<string, Reading>();
  readings.set(catalogue, own);
  const made = partsStamp(catalogue, project.id);
  const known = own.get(project.id);
  const reading = known?.made === made ? known : new Reading(made, catalogue, project);
  own.delete(project.id);
  own.set(project.id, reading);
  for (const oldest of own.keys()) {
    const clips = [...own.values()].reduce((sum, { clipsRead }) => sum + clipsRead, 0);
    if (own.size === 1 || (own.size <= MOST_READINGS && clips <= MOST_CLIPS_KEPT)) break;
    own.delete(oldest);
  }
  return reading;
}

/** Another text whenever clips, timelines, or items on a shelf that clips link are others. */
export function partsStamp(catalogue: Catalogue, projectId: string): string {
  return [
    catalogue.stamp(projectId),
    ...catalogue.clips.shelvesLinked(projectId).map((id) => `${id} ${catalogue.stamp(id)}`),
    catalogue.stamp('house'),
  ].join();
}

/**
 * Calls `look` with the project as it stands, all of it as of one moment; `lines` is what lists tell of it, without the rest. Null when there is no such project. The
 * snapshot is only looked at in the call: what it did not read by then it may read later than the rest.
 */
export async function lookAt<T>(
  catalogue: Catalogue,
  mounts: Mounts,
  projectId: string,
  look: (snapshot: Snapshot, lines: () => ProjectLines) => T,
): Promise<T | null> {
  const shelves = await shelfSnapshots(catalogue, mounts);
  return catalogue.moment(() => {
    const row = catalogue.projects.get(projectId);
    if (!row) return null;
    const project = { id: row.id, name: row.name, rate: row.rate, dropFrame: row.dropFrame, readOrder: row.readOrder, homes: row.homes };
    const reading = readingOf(catalogue, project);
    const retiredShelves = catalogue.shelves.retired();
    const wish = readingWish(catalogue, row);
    const lines = () => linesOf(reading.lines, { shelves, retiredShelves, readOrder: row.readOrder }, wish);
    // Clips and what stands where they read are many, and what is made of them is kept: they are not.
    let read: { clips: readonly Clip[]; items: readonly Item[] } | null = null;
    const readOnce = () => (read ??= readClips(catalogue, project.id, wish, attachedIn(shelves)));
    const snapshot = {
      project,
      get clips() {
        return readOnce().clips;
      },
      get timelines() {
        return reading.timelines;
      },
      get items() {
        return readOnce().items;
      },
      shelves,
      retiredShelves,
      sealed: catalogue.sort.crates(),
    };
    return look(snapshot, lines);
  });
}

/** Like `narrowed`, and reduced to the timelines that use one of these clips. */
export function narrowedToUses(catalogue: Catalogue, snapshot: Snapshot, clipIds: readonly string[]): Snapshot {
  const using = catalogue.timelines.using(clipIds);
  return { ...narrowed(catalogue, snapshot, clipIds), timelines: snapshot.timelines.filter(({ id }) => using.has(id)) };
}

/** The snapshot reduced to these clips and to the items at the places they link. */
export function narrowed(catalogue: Catalogue, snapshot: Snapshot, clipIds: readonly string[]): Snapshot {
  const { project, timelines, shelves, retiredShelves, sealed } = snapshot;
  const row = catalogue.projects.get(project.id);
  const wish = row ? readingWish(catalogue, row) : NO_WISH;
  return {
    project,
    timelines,
    shelves,
    ...(retiredShelves ? { retiredShelves } : {}),
    ...(sealed ? { sealed } : {}),
    ...readClips(catalogue, project.id, wish, attachedIn(shelves), clipIds),
  };
}

/** The project for a plan, read at one moment but for what timelines hold: that never changes. Null when there is no such project. */
export function takeSnapshot(catalogue: Catalogue, mounts: Mounts, projectId: string): Promise<Snapshot | null> {
  return lookAt(catalogue, mounts, projectId, (snapshot) => ({ ...snapshot }));
}
