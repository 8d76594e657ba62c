/** Source timecode of lists with sources at other rates: how it is counted is settled by the media of the clips. */
import { countAtFirst } from '../../core/interchange/timeline-formats';
import { randomUUID } from 'node:crypto';
import { countedByList, countedBySource, chosenCount, withChosenCount } from '../../core/interchange/otio/counted-clip';
import type { OtioObject } from '../../core/interchange/otio/otio-types';
import { ownMetadata } from '../../core/interchange/otio/otio-values';
import { withClips } from '../../core/interchange/otio/otio-writer';
import { placeKey } from '../../core/media/item';
import { linksRead, type Stock } from '../../core/project/clip';
import { COUNTED, countedBySourceAt, eventsAtOtherRates, settleCounts, type CountedFile, type CountsSettled } from '../../core/project/count-events';
import type { SourceCount } from '../../core/project/source-count';
import { soundEvents, type ClipEvent } from '../../core/project/timeline';
import type { Catalogue } from '../catalogue/catalogue';
import type { EventClips } from '../catalogue/timeline-reads';
import { digest } from '../catalogue/timelines';
import { enterTimeline, keepFigures, readAgain, type TimelineText } from './enter-timeline';

export interface CountedText extends TimelineText {
  readonly findings: CountsSettled['findings'];
}

/** A timeline with its events counted as it says itself, or as the media of their clips tells; the same where there is nothing to count. */
export function countSources(catalogue: Catalogue, projectId: string, text: TimelineText, clips: EventClips, format: string): CountedText {
  const files = eventsAtOtherRates(text.model, filesOf(catalogue, projectId, text, clips));
  if (files.size === 0) return { ...text, findings: [] };
  const { counts, findings } = settleCounts(files, chosenCount(ownMetadata(text.document)), countAtFirst(format));
  const bySource = new Map(
    [...files.values()].flat().flatMap((own) => {
      const at = counts.get(own.event.index) === 'source' ? countedBySourceAt(own) : null;
      return at ? [[own.event.index, at] as const] : [];
    }),
  );
  if (bySource.size === 0) return { ...text, findings };
  const document = withClips(text.document, (index, clip) => {
    const at = bySource.get(index);
    return at ? countedBySource(clip, at) : clip;
  });
  return { ...readAgain(document, text.model.rate), findings };
}

/** The file an event reads, as it stands there or as it is remembered. */
function filesOf(catalogue: Catalogue, projectId: string, { model }: TimelineText, { clipIds, positions }: EventClips) {
  const ids = [...new Set(clipIds.filter((id) => id !== null))];
  const clips = new Map(catalogue.clips.ofProject(projectId, ids).map((clip) => [clip.id, clip]));
  const items = new Map(catalogue.items.linkedBy(projectId, ids).map((item) => [placeKey(item.place), item]));
  const stock: Stock = { isAttached: () => true, itemAt: (place) => items.get(placeKey(place)) ?? null };
  const sounds = soundEvents(model.tracks);
  return ({ index }: ClipEvent): CountedFile | null => {
    const clip = clips.get(clipIds[index] ?? '');
    // Where frames are found by their number nobody asks for labels.
    if (!clip || clip.conform === 'by-frame') return null;
    const [link] = linksRead(clip, sounds.has(index), positions[index] ?? null, stock);
    if (!link || link.expected.partOf) return null;
    const item = link.place ? items.get(placeKey(link.place)) : undefined;
    const { kind, rate, startFrame, durationFrames } = link.expected;
    const facts = item?.facts ?? (kind === null ? null : { kind, rate, startFrame, durationFrames, dropFrame: false, steadyRate: true });
    return facts ? { key: link.place ? placeKey(link.place) : `${clip.id} ${link.url}`, facts } : null;
  };
}

/** What the user wants: of the whole list, or of some of its events. `null`: the media decides. */
export interface CountWish {
  readonly count: SourceCount | null;
  readonly events?: readonly number[];
}

/** Counts a timeline as the user wants it; gives the id under which it is known from then on, null where there is no such timeline. */
export function recount(catalogue: Catalogue, projectId: string, timelineId: string, { count, events }: CountWish): string | null {
  return catalogue.transaction(() => {
    const project = catalogue.projects.get(projectId);
    const row = catalogue.timelines.entries(projectId).find(({ id }) => id === timelineId);
    const before = catalogue.timelines.document(timelineId);
    if (!project || !row || before === null) return null;
    const named = new Set(events);
    const asList = withClips(JSON.parse(before) as OtioObject, (index, clip) => {
      const list = countedByList(clip);
      return named.has(index) ? withChosenCount(list, count) : list;
    });
    const wished = events === undefined ? withChosenCount(asList, count) : asList;
    const clips = catalogue.timelines.eventClips(timelineId);
    const { findings, ...text } = countSources(catalogue, projectId, readAgain(wished, project.rate), clips, row.format);
    const { head: _head, ...words } = row;
    const said = [...words.findings.filter(({ code }) => !code.startsWith(COUNTED)), ...findings];
    const next = { ...words, findings: said, id: randomUUID(), cameAs: words.cameAs ?? digest(before) };
    const entered = enterTimeline(catalogue, projectId, next, text, clips);
    catalogue.timelines.follow(catalogue.timelines.knownAs(timelineId), next.id);
    catalogue.timelines.remove(projectId, timelineId);
    keepFigures(catalogue, projectId, [entered]);
    return next.id;
  });
}
