/** Takes back what was matched as a timeline came in: it is entered again with nothing but what it says itself. */
import { readOtioDocument } from '../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import { countedByList } from '../../core/interchange/otio/counted-clip';
import { withClips } from '../../core/interchange/otio/otio-writer';
import { COUNTED } from '../../core/project/count-events';
import { sourcesOf } from '../../core/matching/sources';
import { sourceRendition, type MediaLink } from '../../core/project/clip';
import type { Catalogue } from '../catalogue/catalogue';
import type { Places } from '../stock/mounts';
import { AddressBook } from './address-book';
import { clipsOfEvents, isMatched, MATCHED } from './bring-in';
import { ClipFinder } from './clip-finder';
import { enterTimeline, keepFigures } from './enter-timeline';

/**
 * Gives the id under which the timeline is known from then on; null when there is no such timeline, or nothing of it was
 * matched. Clips that somebody worked on stay in their bins, with their files.
 */
export function unmatch(
  catalogue: Catalogue,
  mounts: Pick<Places, 'rootOf'>,
  projectId: string,
  timelineId: string,
  newId: () => string,
): string | null {
  return catalogue.transaction(() => {
    const project = catalogue.projects.get(projectId);
    const row = catalogue.timelines.entries(projectId).find(({ id }) => id === timelineId);
    const text = catalogue.timelines.document(timelineId);
    if (!project || !row || text === null || !isMatched(row.findings)) return null;
    // Without its media nothing tells how its sources are counted.
    const document = withClips(JSON.parse(text) as OtioObject, (_index, clip) => countedByList(clip));
    const [read] = readOtioDocument(document, project.rate).timelines;
    if (!read) return null;
    const { timeline } = read;
    const bin = binOf(catalogue, projectId, timelineId);
    const known = catalogue.timelines.knownAs(timelineId);
    catalogue.clips.removeUnused(catalogue.timelines.remove(projectId, timelineId));
    const clips = new ClipFinder(catalogue, new AddressBook(catalogue, mounts, null), projectId, newId, new Map(), true);
    const { ofEvent } = sourcesOf(timeline, document);
    const { head: _head, ...words } = row;
    const { said: _said, ...eventClips } = clipsOfEvents(timeline, ofEvent, clips, bin);
    const entered = enterTimeline(
      catalogue,
      projectId,
      { ...words, findings: words.findings.filter(({ code }) => code !== MATCHED && !code.startsWith(COUNTED)), id: newId() },
      { model: timeline, document, text: JSON.stringify(document) },
      eventClips,
    );
    catalogue.timelines.follow(known, entered.id);
    keepFigures(catalogue, projectId, [entered]);
    return entered.id;
  });
}

/** Where clips that come with the timeline lie. */
function binOf(catalogue: Catalogue, projectId: string, timelineId: string): string {
  const { clipIds } = catalogue.timelines.eventClips(timelineId);
  const used = clipIds.filter((id) => id !== null);
  return catalogue.clips.ofProject(projectId, used).find(({ madeBy }) => madeBy === 'timeline')?.binPath ?? '';
}

/** Clips whose source was matched and is not proven read nothing again, and know what their timelines say of them; gives how many. */
export function unmatchClips(catalogue: Catalogue, projectId: string, clipIds: readonly string[]): number {
  return catalogue.transaction(() => {
    const matched = catalogue.clips.ofProject(projectId, clipIds).flatMap((clip) => {
      const rendition = sourceRendition(clip);
      const link = rendition?.links.find(({ expected }) => expected.matchedBy !== undefined);
      return rendition && link ? [{ rendition, link }] : [];
    });
    for (const { rendition, link } of matched) catalogue.clips.setSourceLinks(rendition.id, [asTold(link)]);
    return matched.length;
  });
}

function asTold({ url, expected: { told } }: MediaLink): MediaLink {
  const [first, ...names] = told?.names ?? [];
  const [reel = null, ...reels] = told?.reels ?? [];
  const more = names.length + reels.length === 0 ? {} : { told: { names, reels } };
  const nothing = { sizeBytes: null, fingerprint: null, rate: null, durationFrames: null, startFrame: null, kind: null };
  return { place: null, url, expected: { name: first ?? '', reel, ...nothing, ...more } };
}
