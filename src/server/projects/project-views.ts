/** A project in figures: link states, bytes, where the size is, what to do next. */
import { fileName, folderOf, placeKey, type Item, type Place } from '../../core/media/item';
import type { Snapshot } from '../../core/planning/plan';
import { stockOf, type StockView } from '../../core/planning/stock-view';
import { clipState, isOffline, LINK_STATES, linksRead, sourceLink, type LinkState } from '../../core/project/clip';
import { formatBytes } from '../../core/manifest/words';
import type { Advice, ClipView, OverviewView, ProjectView } from '../api/views';
import type { Catalogue } from '../catalogue/catalogue';
import type { ProjectRow } from '../catalogue/projects';
import type { ClipRead } from '../catalogue/timelines';

export function projectView(
  catalogue: Catalogue,
  project: ProjectRow,
  snapshot: Snapshot,
  linked: ReadonlyMap<string, LinkedFile> = linkedFiles(snapshot, stockOf(snapshot), new Map()),
): ProjectView {
  const stock = stockOf(snapshot);
  const states = Object.fromEntries(LINK_STATES.map((state) => [state, 0])) as Record<LinkState, number>;
  for (const clip of snapshot.clips) states[clipState(clip, stock)]++;
  const crate = catalogue.crates.ofProject(project.id)[0];
  return {
    ...project,
    timelines: catalogue.timelines.entries(project.id).length,
    clips: snapshot.clips.length,
    mediaBytes: [...linked.values()].reduce((sum, file) => sum + file.bytes, 0),
    projectBytes: catalogue.timelines.bytes(project.id),
    states,
    lastCrate: crate ? { name: crate.name, madeAt: crate.madeAt, shelfName: stock.shelfName(crate.place.shelfId), bytes: crate.bytes } : null,
  };
}

interface LinkedFile {
  readonly place: Place;
  readonly bytes: number;
  readonly kind: string;
  readonly used: boolean;
}

/** Every file a project links, once; what is offline counts as it was when it was linked. */
function linkedFiles(snapshot: Snapshot, stock: StockView, events: ReadonlyMap<string, number>): Map<string, LinkedFile> {
  const files = new Map<string, LinkedFile>();
  for (const clip of snapshot.clips) {
    for (const { place, expected } of clip.renditions.flatMap((rendition) => rendition.links)) {
      if (!place) continue;
      const item = stock.itemAt(place);
      const key = placeKey(place);
      const used = (events.get(clip.id) ?? 0) > 0 || (files.get(key)?.used ?? false);
      files.set(key, {
        place,
        used,
        bytes: item?.sizeBytes ?? expected.sizeBytes ?? 0,
        kind: item?.facts.kind ?? expected.kind ?? 'other',
      });
    }
  }
  return files;
}

export function overviewView(catalogue: Catalogue, project: ProjectRow, snapshot: Snapshot): OverviewView {
  const stock = stockOf(snapshot);
  const counts = catalogue.timelines.eventsByClip(project.id);
  const linked = linkedFiles(snapshot, stock, counts);
  const view = projectView(catalogue, project, snapshot, linked);
  const kinds = new Map<string, { bytes: number; items: number }>();
  const shelves = new Map<string, { usedBytes: number; unusedBytes: number }>();
  for (const file of linked.values()) {
    const kind = kinds.get(file.kind) ?? { bytes: 0, items: 0 };
    kinds.set(file.kind, { bytes: kind.bytes + file.bytes, items: kind.items + 1 });
    const name = stock.shelfName(file.place.shelfId);
    const shelf = shelves.get(name) ?? { usedBytes: 0, unusedBytes: 0 };
    shelves.set(name, file.used ? { ...shelf, usedBytes: shelf.usedBytes + file.bytes } : { ...shelf, unusedBytes: shelf.unusedBytes + file.bytes });
  }
  const places = [...linked.values()].map((file) => file.place);
  const offlineEvents = snapshot.clips.filter((clip) => isOffline(clipState(clip, stock))).reduce((sum, clip) => sum + (counts.get(clip.id) ?? 0), 0);
  return {
    ...view,
    offlineEvents,
    events: catalogue.timelines.entries(project.id).reduce((sum, { head }) => sum + head.eventCount, 0),
    usedBytes: usedBytes(catalogue.timelines.reads(project.id), snapshot, stock),
    folders: new Set(places.map((place) => `${place.shelfId}/${folderOf(place.path)}`)).size,
    shelves: new Set(places.map((place) => place.shelfId)).size,
    byKind: [...kinds].map(([kind, value]) => ({ kind, ...value })).sort((a, b) => b.bytes - a.bytes),
    byShelf: [...shelves].map(([name, value]) => ({ name, ...value })).sort((a, b) => b.usedBytes + b.unusedBytes - a.usedBytes - a.unusedBytes),
    advice: advise(
      view,
      snapshot,
      snapshot.clips.filter((clip) => clipState(clip, stock) === 'missing').reduce((sum, clip) => sum + (counts.get(clip.id) ?? 0), 0),
    ),
  };
}

/** Bytes of the files that events read, of clips whose media is there. */
function usedBytes(reads: readonly ClipRead[], snapshot: Snapshot, stock: StockView): number {
  const clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  const used = new Set<Item>();
  for (const { clipId, sound, position } of reads) {
    const clip = clips.get(clipId);
    if (!clip || clipState(clip, stock) !== 'present') continue;
    for (const { place } of linksRead(clip, sound, position, stock)) {
      const item = place ? stock.itemAt(place) : null;
      if (item) used.add(item);
    }
  }
  return [...used].reduce((sum, item) => sum + item.sizeBytes, 0);
}

function advise(view: ProjectView, snapshot: Snapshot, missingEvents: number): Advice[] {
  const advice: Advice[] = [];
  if (snapshot.shelves.length === 0)
    advice.push({ stage: 'shelves', title: 'Register a shelf', why: 'Tell which drives and folders hold your media, then take stock of them.' });
  if (view.timelines === 0)
    advice.push({ stage: 'timelines', title: 'Bring in a timeline', why: 'An OTIO file or a CMX 3600 list tells which media the edit uses.' });
  const missing = view.states.missing;
  if (missing > 0)
    advice.push({
      stage: 'relink',
      title: `Relink ${missing} missing ${missing === 1 ? 'clip' : 'clips'}`,
      why:
        missingEvents === 0
          ? 'No event of a timeline uses them.'
          : `${missingEvents === 1 ? '1 event of the timelines shows' : `${missingEvents} events of the timelines show`} nothing until the media is back.`,
    });
  const changed = view.states.changed;
  if (changed > 0)
    advice.push({
      stage: 'relink',
      title: `Look at ${changed} changed ${changed === 1 ? 'file' : 'files'}`,
      why: 'Another file stands under the name that was linked.',
    });
  const away = snapshot.shelves.filter((shelf) => !shelf.attached).map((shelf) => shelf.name);
  if (view.states.unplugged > 0)
    advice.push({
      stage: 'shelves',
      title: `Plug in ${away.join(', ')}`,
      why: view.states.unplugged === 1 ? '1 clip comes back by itself.' : `${view.states.unplugged} clips come back by themselves.`,
    });
  if (view.timelines > 0 && view.lastCrate === null)
    advice.push({ stage: 'crates', title: 'Make the first crate', why: `There is no safe copy yet of ${formatBytes(view.mediaBytes)} of media.` });
  return advice;
}

export function clipViews(catalogue: Catalogue, snapshot: Snapshot): ClipView[] {
  const stock = stockOf(snapshot);
  const counts = catalogue.timelines.eventsByClip(snapshot.project.id);
  return snapshot.clips.map((clip) => {
    const link = sourceLink(clip);
    const item = link?.place ? stock.itemAt(link.place) : null;
    return {
      id: clip.id,
      name: clip.name,
      binPath: clip.binPath,
      state: clipState(clip, stock),
      fileName: link?.expected.name || (link?.place ? fileName(link.place.path) : ''),
      place: link?.place ?? null,
      url: link?.url ?? '',
      renditions: clip.renditions.map((rendition) => rendition.kind),
      itemId: item?.id ?? null,
      events: counts.get(clip.id) ?? 0,
    };
  });
}
