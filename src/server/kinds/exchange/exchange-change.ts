/** A timeline whose events read other items comes into the project, beside the old one or in its place. */
import { randomUUID } from 'node:crypto';
import { pathToFileURL } from 'node:url';
import { readTimeline } from '../../../core/interchange/otio/otio-reader';
import type { OtioObject } from '../../../core/interchange/otio/otio-types';
import { relativeAddress } from '../../../core/interchange/otio/target-url';
import { fileName, folderOf, type Item } from '../../../core/media/item';
import { splitExtension } from '../../../core/naming/safe-name';
import { trimEndOf } from '../../../core/naming/trim-end';
import type { ExchangeBack, ExchangeChange, ExchangedMedia } from '../../../core/planning/exchange/exchange';
import { exchangedDocument, type ExchangedItem } from '../../../core/planning/exchange/exchanged-document';
import type { TimelineSnapshot } from '../../../core/planning/plan/snapshot';
import type { CatalogueChange } from '../../../core/planning/plan/step';
import type { Clip } from '../../../core/project/clip';
import type { Made } from '../../../core/rendition/recipe';
import { placeMediaKey } from '../../../core/project/media-key';
import type { Catalogue } from '../../catalogue/catalogue';
import type { TimelineEntry } from '../../catalogue/timelines';
import { enterTimeline, keepFigures, type TimelineText } from '../../projects/enter-timeline';
import { linkTo, newClip } from '../../projects/make-clip';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeContext, ChangeMaker } from '../../actions/step-context';

/** Clip of an item, and which of its items that is. */
interface Stand {
  readonly clipId: string;
  readonly position: number | null;
}

export const exchangeChange: ChangeMaker<ExchangeChange> = {
  toTell: (change) => ({ ...change, media: [], events: [] }) as CatalogueChange,
  make(change, context) {
    const { catalogue } = context;
    const projectId = projectOf(context);
    const old = entryOf(catalogue, projectId, change.timelineId);
    if (!old) throw new StepFailure('The timeline was removed after the plan was made. Look again.');
    const { clipIds, positions } = catalogue.timelines.eventClips(old.id);
    if (change.events.some(([index, media]) => clipIds[index] !== change.media[media]!.clipId))
      throw new StepFailure('The timeline reads other clips than the plan saw. Look again.');
    const owners = new Map(
      catalogue.clips.ofProject(projectId, [...new Set(change.media.map(({ clipId }) => clipId))]).map((clip) => [clip.id, clip]),
    );
    const media = change.media.map((own) => {
      const owner = owners.get(own.clipId);
      if (!owner) throw new StepFailure('A clip was taken out of the project after the plan was made. Look again.');
      return exchangedItem(own, owner, context);
    });
    const stands = media.map(({ item, conform }, index) => standOf(projectId, item, conform, owners.get(change.media[index]!.clipId)!, catalogue));
    const newClipIds = [...clipIds];
    const newPositions = [...positions];
    for (const [index, own] of change.events) {
      newClipIds[index] = stands[own]!.clipId;
      newPositions[index] = stands[own]!.position;
    }
    const text = textOf(catalogue, old.id);
    const document = exchangedDocument(text.document, change, media);
    const row = { ...old, id: randomUUID(), name: change.name, broughtInAt: change.keptAs === null ? new Date().toISOString() : old.broughtInAt };
    const made = [enterTimeline(catalogue, projectId, row, read(document, catalogue, projectId), { clipIds: newClipIds, positions: newPositions })];
    const kept = change.keptAs === null ? null : { id: randomUUID(), asId: old.id, asName: old.name };
    if (kept) {
      catalogue.timelines.follow(catalogue.timelines.knownAs(old.id), row.id, context.runId);
      made.push(rename(catalogue, projectId, old, text.document, kept.id, change.keptAs!));
    }
    keepFigures(catalogue, projectId, made);
    return {
      bytes: 0,
      checked: kept ? `in the place of the old one, which is "${change.keptAs}" now` : 'a timeline of its own',
      back: { type: 'exchange-back', timelineId: row.id, kept } satisfies ExchangeBack,
    };
  },
};

export const exchangeBack: ChangeMaker<ExchangeBack> = {
  make({ timelineId, kept }, context) {
    const { catalogue } = context;
    const projectId = projectOf(context);
    const later = catalogue.timelines.replacedBy(timelineId);
    if (later !== null) throw new StepFailure(`Run ${later} exchanged it again meanwhile. Undo that one first.`);
    const entry = kept && entryOf(catalogue, projectId, kept.id);
    if (kept && !entry) throw new StepFailure('The timeline as it was before was removed meanwhile: there is nothing to go back to.');
    const standing = catalogue.timelines.followers(projectId).get(timelineId) ?? timelineId;
    const back: TimelineSnapshot[] = [];
    if (kept && entry) {
      back.push(rename(catalogue, projectId, entry, textOf(catalogue, entry.id).document, kept.asId, kept.asName));
      catalogue.timelines.follow([kept.id, ...catalogue.timelines.knownAs(standing)], kept.asId);
    }
    const used = catalogue.timelines.remove(projectId, standing);
    keepFigures(catalogue, projectId, back);
    catalogue.clips.removeUnused(used);
    return { bytes: 0, checked: kept ? 'the timeline as it was before' : '1 timeline taken out' };
  },
};

function projectOf({ catalogue, runId }: ChangeContext): string {
  const projectId = catalogue.runs.get(runId)?.projectId ?? '';
  if (!catalogue.projects.get(projectId)) throw new StepFailure('The project was removed meanwhile.');
  return projectId;
}

function entryOf(catalogue: Catalogue, projectId: string, id: string): TimelineEntry | undefined {
  return catalogue.timelines.entries(projectId).find((entry) => entry.id === id);
}

function textOf(catalogue: Catalogue, id: string): { readonly document: OtioObject } {
  return { document: JSON.parse(catalogue.timelines.document(id)!) as OtioObject };
}

function read(document: OtioObject, catalogue: Catalogue, projectId: string): TimelineText {
  const model = readTimeline(document, catalogue.projects.get(projectId)!.rate);
  if (!model) throw new StepFailure('The timeline cannot be read any more.');
  return { model, document, text: JSON.stringify(document) };
}

/** The same timeline under another id and name: what is known under an id never changes. */
function rename(catalogue: Catalogue, projectId: string, entry: TimelineEntry, document: OtioObject, id: string, name: string) {
  const clips = catalogue.timelines.eventClips(entry.id);
  catalogue.timelines.remove(projectId, entry.id);
  return enterTimeline(catalogue, projectId, { ...entry, id, name }, read({ ...document, name }, catalogue, projectId), clips);
}

function exchangedItem({ place, fingerprint, rate }: ExchangedMedia, owner: Clip, { catalogue, places }: ChangeContext): ExchangedItem {
  const item = catalogue.items.at(place);
  if (!item || item.fingerprint !== fingerprint) throw new StepFailure(`${fileName(place.path)} is not what the plan saw any more. Look again.`);
  const { sequence } = item.facts;
  const path = sequence ? folderOf(place.path) : place.path;
  const root = places.rootOf(place.shelfId);
  const address = root === null ? relativeAddress(path.split('/')) : pathToFileURL(`${root}/${path}`).href;
  const name = sequence ? trimEndOf(sequence.prefix, /[._\- ]/) : splitExtension(fileName(place.path))[0];
  return { item, address, name: name || owner.name, conform: owner.conform, ...(rate ? { rate } : {}) };
}

/** Bits of the pictures of a clip: of what it took the place of before, where that had more. */
function depthOf({ renditions }: Clip, { items }: Catalogue): number | null {
  const source = renditions.find(({ kind }) => kind === 'source');
  const place = source?.links[0]?.place;
  const depth = Math.max((place && items.at(place)?.facts.video?.bitDepth) ?? 0, source?.made?.insteadOfDepth ?? 0);
  return depth > 0 ? depth : null;
}

/** The clip whose source the item is, where there is one that finds its frames in the same way; else a new one beside the clip it stands for. */
function standOf(projectId: string, item: Item, conform: Clip['conform'], beside: Clip, catalogue: Catalogue): Stand {
  const known = catalogue.sources.idByPlace(projectId, item.place);
  const [own] = known ? catalogue.clips.ofProject(projectId, [known.id]) : [];
  if (known?.part === null && own && own.conform === conform && !own.setAside) return { clipId: known.id, position: (own.renditions.find(({ kind }) => kind === 'source')?.links.length ?? 1) > 1 ? known.position : null }; // prettier-ignore
  const key = placeMediaKey(item.place);
  const isFree = catalogue.clips.idByMediaKey(projectId, key) === null;
  const { sequence } = item.facts;
  const seed = {
    name: (sequence ? trimEndOf(sequence.prefix, /[._\- ]/) : splitExtension(fileName(item.place.path))[0]) || beside.name,
    binPath: beside.binPath,
    mediaKey: isFree ? key : `${key} ${randomUUID()}`,
    madeBy: 'timeline' as const,
    links: [linkTo(item, '')],
    conform,
  };
  const plain = newClip(seed, randomUUID);
  const depth = depthOf(beside, catalogue);
  const made: Made = {
    presetId: null,
    burnIn: catalogue.sources.isBurned(item.place),
    sourcePrint: null,
    at: new Date().toISOString(),
    ...(depth === null ? {} : { insteadOfDepth: depth }),
  };
  const clip = { ...plain, renditions: plain.renditions.map((rendition) => ({ ...rendition, made })) };
  catalogue.bins.ensure(projectId, beside.binPath);
  catalogue.clips.put(projectId, clip);
  return { clipId: clip.id, position: null };
}
