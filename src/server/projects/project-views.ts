/** A project in figures: link states, bytes, where the size is, what to do next. */
import { folderOf, placeKey, type Place } from '../../core/media/item';
import type { ShelfSnapshot } from '../../core/planning/plan/snapshot';
import { clipState, isInParts, isOffline, LINK_STATES, linksRead, sourceRendition, type LinkState } from '../../core/project/clip';
import { liesIn } from '../../core/project/reading';
import { formatBytes, plural, upperFirst, oneOrMany } from '../../core/words/figures';
import type { Advice, OverviewView, ProjectView } from './views/project';
import type { Catalogue } from '../catalogue/catalogue';
import type { LineLink } from '../catalogue/clip-lines';
import { safetyOf } from './safety';
import { tidyAdvice } from './tidy-advice';
import type { ProjectRow } from '../catalogue/projects';
import type { ClipRead } from '../catalogue/timelines';
import type { ProjectLines } from './project-lines';

export function projectView(
  catalogue: Catalogue,
  project: ProjectRow,
  lines: ProjectLines,
  linked: ReadonlyMap<string, LinkedFile> = linkedFiles(lines, new Set(), new Map()),
): ProjectView {
  const states = Object.fromEntries(LINK_STATES.map((state) => [state, 0])) as Record<LinkState, number>;
  for (const clip of lines.clips) states[clipState(clip, lines)]++;
  return {
    ...project,
    timelines: catalogue.timelines.entries(project.id).length,
    clips: lines.clips.length,
    mediaBytes: [...linked.values()].reduce((sum, file) => sum + file.bytes, 0),
    projectBytes: catalogue.timelines.bytes(project.id),
    states,
    ...safetyOf(catalogue, project.id, lines),
  };
}

interface LinkedFile {
  readonly place: Place;
  readonly bytes: number;
  readonly kind: string;
  readonly used: boolean;
  /** Linked as a light copy or a mezzanine alone. */
  readonly isCopyOnly: boolean;
}

/**
 * Every file a project links, once; what is offline counts as it was when it was linked. `used`: keys of those that events
 * read; `inUse`: clips that events read.
 */
function linkedFiles(lines: ProjectLines, used: ReadonlySet<string>, inUse: Pick<ReadonlyMap<string, number>, 'has'>): Map<string, LinkedFile> {
  const files = new Map<string, LinkedFile>();
  for (const clip of lines.clips) {
    const isSourceRead = clip.renditions.some(
      ({ kind, links }) => kind === 'source' && links.some(({ place }) => place && used.has(placeKey(place))),
    );
    const isInUse = isInParts(clip) && inUse.has(clip.id);
    for (const { kind, links } of [
      ...clip.renditions,
      ...(isInParts(clip) ? clip.parts : []).map((part) => ({ kind: 'source' as const, ...part })),
      ...clip.partCopies,
    ]) {
      for (const { place, expected, item } of links) {
        if (!place) continue;
        const key = placeKey(place);
        const known = files.get(key);
        files.set(key, {
          place,
          // What stands in for a source that is used is of use.
          used: isInUse || used.has(key) || (kind !== 'source' && isSourceRead) || known?.used === true,
          isCopyOnly: (kind === 'proxy' || kind === 'mezzanine') && known?.isCopyOnly !== false,
          bytes: item?.sizeBytes ?? expected.sizeBytes ?? 0,
          kind: item?.facts.kind ?? expected.kind ?? 'other',
        });
      }
    }
  }
  return files;
}

export function overviewView(catalogue: Catalogue, project: ProjectRow, lines: ProjectLines, shelvesKnown: readonly ShelfSnapshot[]): OverviewView {
  const counts = catalogue.timelines.eventsByClip(project.id);
  const linked = linkedFiles(lines, filesRead(catalogue.timelines.reads(project.id), lines), counts);
  const view = projectView(catalogue, project, lines, linked);
  const kinds = new Map<string, { bytes: number; items: number }>();
  const shelves = new Map<string, { usedBytes: number; unusedBytes: number }>();
  for (const file of linked.values()) {
    const kind = kinds.get(file.kind) ?? { bytes: 0, items: 0 };
    kinds.set(file.kind, { bytes: kind.bytes + file.bytes, items: kind.items + 1 });
    const name = lines.shelfName(file.place.shelfId);
    const shelf = shelves.get(name) ?? { usedBytes: 0, unusedBytes: 0 };
    shelves.set(name, file.used ? { ...shelf, usedBytes: shelf.usedBytes + file.bytes } : { ...shelf, unusedBytes: shelf.unusedBytes + file.bytes });
  }
  const places = [...linked.values()].map((file) => file.place);
  const offlineEvents = lines.clips.filter((clip) => isOffline(clipState(clip, lines))).reduce((sum, clip) => sum + (counts.get(clip.id) ?? 0), 0);
  return {
    ...view,
    offlineEvents,
    events: catalogue.timelines.entries(project.id).reduce((sum, { head }) => sum + head.eventCount, 0),
    usedBytes: [...linked.values()].reduce((sum, file) => sum + (file.used ? file.bytes : 0), 0),
    folders: new Set(places.map((place) => `${place.shelfId}/${folderOf(place.path)}`)).size,
    shelves: new Set(places.map((place) => place.shelfId)).size,
    byKind: [...kinds].map(([kind, value]) => ({ kind, ...value })).sort((a, b) => b.bytes - a.bytes),
    byShelf: [...shelves].map(([name, value]) => ({ name, ...value })).sort((a, b) => b.usedBytes + b.unusedBytes - a.usedBytes - a.unusedBytes),
    advice: [
      ...advise(
        view,
        shelvesKnown,
        lines.clips.filter((clip) => clipState(clip, lines) === 'missing').reduce((sum, clip) => sum + (counts.get(clip.id) ?? 0), 0),
      ),
      ...movedAdvice(catalogue, lines),
      ...joinAdvice(lines),
      ...tidyAdvice(
        catalogue,
        project,
        [...linked.values()].filter(({ place, isCopyOnly }) => !isCopyOnly && lines.isAttached(place.shelfId) && lines.itemAt(place) !== null),
      ),
    ],
  };
}

/** Keys of the files that events read, present or not. */
function filesRead(reads: readonly ClipRead[], lines: ProjectLines): Set<string> {
  const clips = new Map(lines.clips.map((clip) => [clip.id, clip]));
  const used = new Set<string>();
  for (const { clipId, sound, position } of reads) {
    const clip = clips.get(clipId);
    if (clip) for (const { place } of linksRead(clip, sound, position, lines)) if (place) used.add(placeKey(place));
  }
  return used;
}

/** Clips whose linked file is gone while its content stands elsewhere on its shelf, outside of crates: what Relink tells as moved. */
function movedAdvice(catalogue: Catalogue, lines: ProjectLines): Advice[] {
  const crates = catalogue.sort.crates().map(({ place }) => place);
  const isMoved = ({ linkedAt, isHomeGone, copies = [] }: LineLink) =>
    linkedAt !== undefined &&
    isHomeGone === true &&
    lines.isAttached(linkedAt.shelfId) &&
    copies.some(({ place }) => place.shelfId === linkedAt.shelfId && !liesIn(place, crates));
  const clips = lines.clips.filter((clip) => !clip.setAside && sourceRendition(clip)?.links.some(isMoved)).length;
  return clips === 0
    ? []
    : [
        {
          stage: 'relink',
          title: `Relink ${plural(clips, 'clip')} whose files were moved`,
          why: 'Clips read copies meanwhile. Relinked, the project remembers the new place.',
        },
      ];
}

/** Of catalogues made before a source was one clip. */
function joinAdvice(lines: ProjectLines): Advice[] {
  const counts = new Map<string, number>();
  for (const clip of lines.clips) {
    const contents = sourceRendition(clip)?.links.map(({ content }) => content) ?? [];
    if (contents.length === 0 || contents.includes(null)) continue;
    const source = contents.join(' ');
    counts.set(source, (counts.get(source) ?? 0) + 1);
  }
  const groups = [...counts.values()].filter((count) => count > 1);
  if (groups.length === 0) return [];
  const clips = groups.reduce((sum, count) => sum + count, 0);
  return [
    {
      stage: 'timelines',
      title: `Join ${clips} clips of ${plural(groups.length, 'source')}`,
      why: 'Their files are equal in every byte. Bins, notes and names of each are kept.',
      query: 'view=bins&join=1',
    },
  ];
}

function advise(view: ProjectView, shelves: readonly ShelfSnapshot[], missingEvents: number): Advice[] {
  const advice: Advice[] = [];
  if (view.openedFrom)
    advice.push({
      stage: 'runs',
      title: `Look at the crate ${view.openedFrom.crate}`,
      why: `It was opened with something wrong: ${view.openedFrom.trouble.join(' ')}`,
      query: `run=${view.openedFrom.runId}`,
    });
  if (shelves.length === 0)
    advice.push({ stage: 'shelves', title: 'Add a drive or folder', why: 'Add what holds your media. Then everything on it is read.' });
  if (view.timelines === 0)
    advice.push({ stage: 'timelines', title: 'Bring in a timeline', why: 'An OTIO file or a CMX 3600 list tells which media the edit uses.' });
  const missing = view.states.missing;
  if (missing > 0)
    advice.push({
      stage: 'relink',
      title: `Relink ${missing} missing ${oneOrMany(missing, 'clip', 'clips')}`,
      why:
        missingEvents === 0
          ? 'No event of a timeline uses them.'
          : `${plural(missingEvents, 'event of the timelines shows', 'events of the timelines show')} nothing until the media is back.`,
    });
  const { damaged } = view.states;
  if (damaged > 0)
    advice.push({
      stage: 'relink',
      title: `Replace ${plural(damaged, 'damaged file')}`,
      why: 'Part of the media cannot be read: cut off, without its index, or overwritten. Look for another copy.',
    });
  const changed = view.states.changed;
  if (changed > 0)
    advice.push({
      stage: 'relink',
      title: `Look at ${changed} changed ${oneOrMany(changed, 'file', 'files')}`,
      why: 'Another file stands under the name that was linked.',
    });
  const away = shelves.filter((shelf) => !shelf.attached).map((shelf) => shelf.name);
  if (view.states.unplugged > 0)
    advice.push({
      stage: 'shelves',
      title: `Plug in ${away.join(', ')}`,
      why: plural(view.states.unplugged, 'clip comes back by itself.', 'clips come back by themselves.'),
    });
  const notRead = view.states['not-read'];
  if (notRead > 0)
    advice.push({
      stage: 'proxies',
      title: 'Look at the read order',
      why: `It stops before the media of ${plural(notRead, 'clip')}, which therefore ${oneOrMany(notRead, 'counts', 'count')} as offline.`,
    });
  if (view.timelines > 0) advice.push(...safetyAdvice(view));
  return advice;
}

/** What is missing before the project is safe. */
function safetyAdvice({ lastCrate: crate, copies, mediaBytes }: ProjectView): Advice[] {
  const twice = copies.files > 0 && copies.leastDrives > 1;
  if (crate === null) {
    const why = twice
      ? `Every file has verified copies on ${copies.leastDrives} drives. A crate also holds the timelines.`
      : `There is no safe copy yet of ${formatBytes(mediaBytes)} of media.`;
    return [{ stage: 'crates', title: 'Make the first crate', why }];
  }
  const query = `view=made&crate=${crate.id}`;
  if (crate.lacks)
    return [{ stage: 'crates', title: 'Make a crate that lacks nothing', why: `${crate.name} holds ${crate.lacks}: there is no safe copy yet.` }];
  if (crate.standing.state === 'unread' && crate.attached)
    return [
      {
        stage: 'crates',
        title: `Check the crate ${crate.name}`,
        why: `${upperFirst(crate.trouble ?? '')}. Until then there is no safe copy.`,
        query,
      },
    ];
  if (!crate.isSafe)
    return [{ stage: 'crates', title: 'Make a new crate', why: `${crate.name} is no safe copy any more: ${crate.trouble}.`, query: 'view=make' }];
  if (crate.sharesDrive !== null)
    return [
      {
        stage: 'crates',
        title: 'Make a crate on another drive',
        why: `The only files of the project and the crate ${crate.name} are on one drive, ${crate.sharesDrive}.`,
        query: 'view=make',
      },
    ];
  return [];
}
