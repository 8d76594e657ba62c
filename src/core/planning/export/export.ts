/** Export: timelines as OTIO, bundles with media, CMX 3600 lists or clip lists, and what each format cannot carry. */
import { writeClipList } from '../../interchange/clip-list/clip-list-writer';
import type { ClipListRow } from '../../interchange/clip-list/clip-list-types';
import { writeEdl, type EdlSource } from '../../interchange/edl/edl-writer';
import { handedOn, missingReference } from '../../interchange/otio/handed-on';
import { isObject, schemaName, type OtioObject } from '../../interchange/otio/otio-types';
import { ownMetadata, text } from '../../interchange/otio/otio-values';
import { readSourceWord, withSourceWord } from '../../interchange/otio/source-word';
import { movedRange } from '../package/counted-range';
import { externalReference, formatOtio, inPlaceOf, sequenceReference, timeRange, withReferences } from '../../interchange/otio/otio-writer';
import { readAddress, relativeAddress } from '../../interchange/otio/target-url';
import { below, fileName, folderOf, joinPath, type Item, type Place } from '../../media/item';
import { NameRegister, portableName, splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { linksRead, type Clip, type MediaLink } from '../../project/clip';
import { sourceWordOf } from '../../project/source-word-of';
import { placedEvents } from '../../project/compare';
import type { SourceCount } from '../../project/source-count';
import { ceilFrames, floorFrames } from '../../project/moment';
import { soundEvents, type ClipEvent } from '../../project/timeline';
import { renditionOfKey } from '../../rendition/reference-keys';
import { isRateNumber, rateFromNumber, rateLabel, type Rate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import type { ExportFormat, ExportSettings } from './settings';
import { listSource } from './list-source';
import { entriesOf, frameCondition, guardedSequence, isMedia, offline } from './export-media';
import { clipListFindings } from './clip-list-rows';
import type { Finding } from '../../words/finding';
import { framesOf } from '../package/package-layout';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills } from '../plan/destination';
import { precondition, type Step, type ZipEntry } from '../plan/step';
import type { Plan } from '../plan/plan';
import type { Snapshot, TimelineSnapshot } from '../plan/snapshot';
import { numbering } from '../../interchange/otio/sequence-numbering';
import { stockOf } from '../plan/stock-view';
import { asRead } from '../taking/part-read';
import { forEachEventUse } from '../taking/used-media';
import { plural } from '../../words/figures';

export interface ExportContext {
  /** Paths below the destination that exist. */
  readonly taken: readonly string[];
  /** `file:` address of the root of each attached shelf, for links that leave the destination's shelf. */
  readonly addresses: ReadonlyMap<string, string>;
}

/** A file (or bundle) that the export would make. */
export interface ExportRow {
  readonly timeline: string;
  readonly path: string;
  readonly bytes: number;
  readonly events: number;
  readonly mediaFiles: number;
}

interface Made {
  readonly steps: readonly Step[];
  readonly rows: readonly ExportRow[];
  readonly findings: readonly Finding[];
}

export interface ExportDetail {
  readonly rows: readonly ExportRow[];
}

export function planExport(snapshot: Snapshot, settings: ExportSettings, context: ExportContext): Plan<ExportDetail> {
  const root: Place = below(settings.destination ?? { shelfId: '', path: '' }, settings.folderName.trim());
  const exporter = new Exporter(snapshot, root, context, settings.sourceCount ?? null, settings.nested === 'flatten');
  const timelines = snapshot.timelines.filter((timeline) => settings.timelineIds.includes(timeline.id));
  const made = timelines.map((timeline) => exporter.timeline(timeline, settings.format));
  const steps = made.flatMap((one) => one.steps);
  const bytes = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
  const problem =
    timelines.length === 0
      ? { code: 'no-timeline', message: 'No timeline is chosen.', hint: 'Choose at least one timeline.' }
      : steps.length === 0
        ? { code: 'nothing-to-write', message: 'There is nothing that this format could hold.', hint: 'Choose another format.' }
        : (hiddenProblem(root.path) ?? destinationProblem(snapshot.shelves, root.shelfId, bytes, ' or fewer timelines'));
  const rows = made.flatMap((one) => one.rows);
  const found = made.flatMap((one, index) => one.findings.map((finding) => ({ ...finding, where: timelines[index]!.model.name })));
  const media = rows.reduce((sum, row) => sum + row.mediaFiles, 0);
  return {
    kind: 'export',
    title: `Export ${timelines.length === 1 ? timelines[0]!.model.name : `${timelines.length} timelines`} as ${FORMAT_WORDS[settings.format]}`,
    projectId: snapshot.project.id,
    headline: {
      value: rows.length,
      of: rows.length,
      unit: 'files',
      words: `· ${plural(timelines.length, 'timeline')}`,
    },
    lines: [
      { label: 'Format', text: FORMAT_WORDS[settings.format] },
      { label: 'Writes', files: rows.length, bytes },
      ...(media > 0 ? [{ label: 'Media inside', files: media }] : []),
      {
        label: 'Cannot be carried',
        text: found.length === 0 ? 'nothing is lost' : `${plural(found.length, 'finding')} below`,
      },
      { label: 'Checks', text: 'every file read back' },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings: [...blockedBy(problem), ...found],
    steps: problem ? [] : steps,
    blocked: problem?.message ?? null,
    detail: { rows },
  };
}

export const FORMAT_WORDS: Readonly<Record<ExportFormat, string>> = {
  otio: 'OpenTimelineIO (.otio)',
  otioz: 'OTIO bundle, one file (.otioz)',
  otiod: 'OTIO bundle, a folder (.otiod)',
  edl: 'CMX 3600 lists (.edl)',
  csv: 'clip list (.csv)',
};

class Exporter {
  private readonly names;
  private readonly stock;
  private readonly clips;
  private readonly sounds = new Map<TimelineSnapshot, ReadonlySet<number>>();
  /** By event index: clips read by a part. */
  private readonly parts = new Map<TimelineSnapshot, Map<number, Clip>>();

  constructor(
    private readonly snapshot: Snapshot,
    private readonly root: Place,
    private readonly context: ExportContext,
    private readonly count: SourceCount | null,
    private readonly flattensNested: boolean,
  ) {
    this.names = new NameRegister(context.taken);
    this.stock = stockOf(snapshot);
    this.clips = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  }

  timeline(timeline: TimelineSnapshot, format: ExportFormat): Made {
    switch (format) {
      case 'otio':
        return this.otio(timeline);
      case 'edl':
        return this.edl(timeline);
      case 'csv':
        return this.clipList(timeline);
      case 'otioz':
      case 'otiod':
        return this.bundle(timeline, format);
    }
  }

  private write(path: string, content: string, reason: string): Step {
    return {
      action: 'write',
      phase: 0,
      from: null,
      to: below(this.root, path),
      expectedBytes: new TextEncoder().encode(content).length,
      bytesExact: true,
      reason,
      mustHold: null,
      content: { type: 'text', text: content },
    };
  }

  /** Links follow the clips to where their files stand now: relative on the same shelf, whole addresses elsewhere. */
  private otio(timeline: TimelineSnapshot): Made {
    const path = this.names.claim('', `${portableName(timeline.model.name)}.otio`);
    const lost: string[] = [];
    const document = withReferences(timeline.document, (index, old) => {
      const link = this.linkOf(timeline, index);
      if (!link?.place) return null;
      const item = this.stock.isAttached(link.place.shelfId) ? this.stock.itemAt(link.place) : null;
      if (!item) {
        lost.push(link.expected.name);
        return null;
      }
      return this.sourceReference(this.clipOf(timeline, index)!, item, old, this.addressOf(item.place), timeline.model.rate);
    }, (index, known, source) => this.otherReferences(timeline, index, known, source)); // prettier-ignore
    const step = this.write(path, formatOtio(document), 'the timeline, linked to where its media stands');
    const findings = lost.length === 0 ? [] : [offline(lost, 'Their links stay as they came.')];
    return { steps: [step], rows: [this.row(timeline, path, step.expectedBytes)], findings };
  }

  /** References of the clip's other renditions that stand there, under their kind or the key that they have already. */
  private otherReferences(
    timeline: TimelineSnapshot,
    index: number,
    known: Readonly<Record<string, OtioObject>>,
    source: OtioObject | null,
  ): Record<string, OtioObject> {
    const clip = this.clips.get(timeline.clipIds[index] ?? '');
    const out: Record<string, OtioObject> = {};
    if (!clip || this.soundsOf(timeline).has(index)) return out;
    for (const { kind, links } of clip.renditions) {
      const place = links[0]?.place;
      const item = kind !== 'source' && place && this.stock.isAttached(place.shelfId) ? this.stock.itemAt(place) : null;
      if (!item?.facts.video) continue;
      const key = Object.keys(known).find((own) => renditionOfKey(own) === kind) ?? kind;
      // It is of the source, frame for frame: it counts as that does.
      const old = known[key] ?? { metadata: {}, available_range: source && isObject(source.available_range) ? source.available_range : null };
      out[key] = this.reference(item, old, this.addressOf(item.place), timeline.model.rate);
    }
    return out;
  }

  private addressOf(place: Place): string {
    if (place.shelfId !== this.root.shelfId) {
      const shelf = this.context.addresses.get(place.shelfId);
      return `${shelf ?? `file:///${encodeURIComponent(this.stock.shelfName(place.shelfId))}`}/${relativeAddress(place.path.split('/'))}`;
    }
    const from = this.root.path === '' ? [] : this.root.path.split('/');
    const to = place.path.split('/');
    let same = 0;
    while (same < from.length && same < to.length - 1 && from[same] === to[same]) same++;
    return relativeAddress([...from.slice(same).map(() => '..'), ...to.slice(same)]);
  }

  /** A reference to the item at its new address. A sequence keeps the numbers it had, as far as there are such frames. */
  private reference(item: Item, old: OtioObject | null, address: string, units: Rate): OtioObject {
    const metadata = old && isObject(old.metadata) ? old.metadata : {};
    const name = old && typeof old.name === 'string' && old.name !== '' ? old.name : fileName(item.place.path);
    const available = old && isObject(old.available_range) ? old.available_range : null;
    const { sequence, durationFrames } = item.facts;
    if (!sequence) return inPlaceOf(old, externalReference(address, name, available, metadata));
    const { prefix, suffix, padding, firstNumber, lastNumber } = sequence;
    const { startNumber, step } = numbering(sequence, old, null);
    const folderUrl = address.slice(0, address.lastIndexOf('/') + 1);
    const rate = isRateNumber(old?.rate) ? rateFromNumber(old.rate) : (item.facts.rate ?? units);
    const range = available ?? timeRange(0, durationFrames ?? lastNumber - firstNumber + 1, units);
    return inPlaceOf(old, sequenceReference({ folderUrl, prefix, suffix, padding, startNumber, step, rate }, name, range, metadata));
  }

  /** The same of a source: what is said of it goes along, and its range is that of the file it leads to. */
  private sourceReference(clip: Clip, item: Item, old: OtioObject | null, address: string, units: Rate): OtioObject {
    const named = old ? (schemaName(old) === 'ImageSequenceReference' ? text(old.name_prefix) : (readAddress(text(old.target_url))?.segments.at(-1) ?? '')) : ''; // prettier-ignore
    const said = old ? readSourceWord(ownMetadata(old), named) : null;
    const file = item.facts.sequence ? item.facts.sequence.prefix : (readAddress(address)?.segments.at(-1) ?? '');
    const word = sourceWordOf(clip, item, null, file, null);
    const kept = old && isObject(old.metadata) ? old.metadata : {};
    const available = old && isObject(old.available_range) ? old.available_range : null;
    const range = item.facts.sequence ? available : movedRange(available, said?.part ?? null, word.part, item.facts);
    return this.reference(
      item,
      { ...(old ?? {}), metadata: withSourceWord(kept, word), ...(range ? { available_range: range } : {}) },
      address,
      units,
    );
  }

  private soundsOf(timeline: TimelineSnapshot): ReturnType<typeof soundEvents> {
    const sounds = this.sounds.get(timeline) ?? soundEvents(timeline.model.tracks);
    this.sounds.set(timeline, sounds);
    return sounds;
  }

  /** What an event reads, by one rule in every format: on a sound track the sound. */
  private linkOf(timeline: TimelineSnapshot, index: number): MediaLink | null {
    const clip = this.clipOf(timeline, index);
    if (!clip) return null;
    return linksRead(clip, this.soundsOf(timeline).has(index), timeline.positions?.[index] ?? null, this.stock)[0] ?? null;
  }

  /** Clip of an event: where it reads a part of its source, the clip as that part alone. */
  private clipOf(timeline: TimelineSnapshot, index: number): Clip | null {
    const clip = this.clips.get(timeline.clipIds[index] ?? '') ?? null;
    return clip?.parts ? (this.partsOf(timeline).get(index) ?? clip) : clip;
  }

  private partsOf(timeline: TimelineSnapshot): ReadonlyMap<number, Clip> {
    const known = this.parts.get(timeline) ?? new Map<number, Clip>();
    if (this.parts.has(timeline)) return known;
    this.parts.set(timeline, known);
    forEachEventUse(this.snapshot, [timeline.id], true, (use) => {
      const read = asRead(use, this.stock);
      if (read !== use) known.set(use.use.event.index, read.clip);
    });
    return known;
  }

  private row(timeline: TimelineSnapshot, path: string, bytes: number, mediaFiles = 0, events = timeline.model.eventCount): ExportRow {
    return { timeline: timeline.model.name, path, bytes, events, mediaFiles };
  }

  private edl(timeline: TimelineSnapshot): Made {
    const { files, findings } = writeEdl(timeline.model, (event) => this.edlSource(timeline, event), this.flattensNested);
    const steps: Step[] = [];
    const rows: ExportRow[] = [];
    for (const file of files) {
      const path = this.names.claim('', `${portableName(`${timeline.model.name} ${file.label}`)}.edl`);
      const step = this.write(path, file.text, `track ${file.label}`);
      steps.push(step);
      rows.push(this.row(timeline, path, step.expectedBytes, 0, file.events));
    }
    return { steps, rows, findings };
  }

  private edlSource(timeline: TimelineSnapshot, event: ClipEvent): EdlSource {
    const clip = this.clipOf(timeline, event.index);
    const link = this.linkOf(timeline, event.index);
    const facts = (link?.place ? this.stock.itemAt(link.place) : null)?.facts ?? null;
    return listSource(timeline, event, { clip, link, facts, isSound: this.soundsOf(timeline).has(event.index) }, this.count);
  }

  private clipList(timeline: TimelineSnapshot): Made {
    const rows = placedEvents(timeline.model).map(({ event, source: shown }): ClipListRow => {
      const clip = this.clips.get(timeline.clipIds[event.index] ?? '');
      const source = this.edlSource(timeline, event);
      const { rate, dropFrame } = source.count ?? timeline.model;
      const label = (frame: number) => frameToTimecode(frame, rate, dropFrame);
      const start = clip?.mediaStart ? label(floorFrames(clip.mediaStart, rate) + source.offsetFrames) : '';
      return {
        name: event.name || (clip?.name ?? ''),
        file: source.file,
        reel: source.reel ?? '',
        start,
        in: label(floorFrames({ value: shown.start, rate: event.units }, rate) + source.offsetFrames),
        out: label(ceilFrames({ value: shown.end, rate: event.units }, rate) + source.offsetFrames),
        bin: clip?.binPath ?? '',
        notes: clip?.note ?? '',
        rate: source.count ? rateLabel(source.count.rate) : '',
      };
    });
    const path = this.names.claim('', `${portableName(timeline.model.name)}.csv`);
    const step = this.write(path, writeClipList(rows), 'one row an event');
    return { steps: [step], rows: [this.row(timeline, path, step.expectedBytes)], findings: clipListFindings(timeline) };
  }

  /** Media goes in whole; what is offline becomes a missing reference that remembers its address. */
  private bundle(timeline: TimelineSnapshot, format: 'otioz' | 'otiod'): Made {
    const path = this.names.claim('', `${portableName(timeline.model.name)}.${format}`);
    const inside = new NameRegister();
    const taken = new Map<string, { item: Item; path: string }>();
    const lost: string[] = [];
    const inPlace = withReferences(timeline.document, (index, old) => {
      const link = this.linkOf(timeline, index);
      const item = link?.place && this.stock.isAttached(link.place.shelfId) ? this.stock.itemAt(link.place) : null;
      if (!item) {
        if (!old || !isMedia(old)) return null;
        lost.push(link?.expected.name || (typeof old.name === 'string' ? old.name : '') || 'unnamed media');
        return missingReference(old);
      }
      let entry = taken.get(item.id);
      if (!entry) {
        const name = item.facts.sequence
          ? splitExtension(trimEndOf(item.facts.sequence.prefix, /[._-]/) || 'sequence')[0]
          : fileName(item.place.path);
        entry = { item, path: inside.claim('media', name) };
        taken.set(item.id, entry);
      }
      return this.sourceReference(this.clipOf(timeline, index)!, item, old, addressIn(entry), timeline.model.rate);
    });
    // Nothing leads out of a bundle, in whatever reference or text.
    const links = new Set([...taken.values()].map((entry) => (entry.item.facts.sequence ? folderOf(addressIn(entry)) : addressIn(entry))));
    const { document } = handedOn(inPlace, (url) => links.has(url.endsWith('/') ? url.slice(0, -1) : url), missingReference);
    const text = formatOtio(document);
    const media = [...taken.values()];
    const mediaBytes = media.reduce((sum, { item }) => sum + item.sizeBytes, 0);
    const findings = lost.length === 0 ? [] : [offline(lost, 'They are in the timeline as missing, with the names of their files.')];
    const steps = format === 'otioz' ? [this.zip(path, text, media, mediaBytes)] : this.folder(path, text, media);
    return { steps, rows: [this.row(timeline, path, mediaBytes + text.length, media.length)], findings };
  }

  private held(item: Item): readonly string[] | null {
    return this.snapshot.frames?.get(item.id) ?? null;
  }

  private zip(path: string, text: string, media: readonly { item: Item; path: string }[], mediaBytes: number): Step {
    const entries: ZipEntry[] = [
      { path: 'content.otio', text },
      { path: 'version.txt', text: '1.0.0' },
      ...media.flatMap(({ item, path: inside }): ZipEntry[] => {
        const frames = entriesOf(item);
        const held = this.held(item);
        return frames.map((frame, index) => ({
          path: frame === null ? inside : `${inside}/${frame}`,
          from: frame === null ? item.place : { shelfId: item.place.shelfId, path: joinPath(folderOf(item.place.path), frame) },
          sizeBytes: frame === null ? item.sizeBytes : Math.ceil(item.sizeBytes / frames.length),
          mustHold: frame === null ? precondition(item) : frameCondition(held?.[index]),
        }));
      }),
    ];
    return {
      action: 'write',
      phase: 0,
      from: null,
      to: below(this.root, path),
      expectedBytes: mediaBytes + new TextEncoder().encode(text).length + entries.length * 300,
      bytesExact: false,
      reason: media.length === 1 ? 'the timeline and 1 media file' : `the timeline and ${media.length} media files`,
      mustHold: null,
      content: { type: 'zip', entries, sequences: media.flatMap(({ item }) => guardedSequence(item)) },
    };
  }

  private folder(path: string, text: string, media: readonly { item: Item; path: string }[]): Step[] {
    const copies = media.map(({ item, path: inside }): Step => {
      const base = { phase: 0, to: below(this.root, `${path}/${inside}`), expectedBytes: item.sizeBytes, reason: 'media of the bundle' };
      const { sequence } = item.facts;
      return sequence
        ? {
            ...base,
            action: 'frames',
            from: { shelfId: item.place.shelfId, path: folderOf(item.place.path) },
            mustHold: precondition(item),
            bytesExact: false,
            ...framesOf(sequence, this.held(item)),
            sequence,
          }
        : { ...base, action: 'copy', from: item.place, mustHold: precondition(item), bytesExact: true };
    });
    return [
      ...copies,
      this.write(`${path}/version.txt`, '1.0.0', 'version of the bundle'),
      // Last, and only when all media is there: without it no tool takes the folder for a bundle.
      { ...this.write(`${path}/content.otio`, text, 'the timeline of the bundle'), phase: 1, content: { type: 'timeline', text, parts: [] } } as Step,
    ];
  }
}

/** Of media inside a bundle, as its timeline addresses it; of a sequence one of its frames. */
function addressIn({ item, path }: { readonly item: Item; readonly path: string }): string {
  return relativeAddress((item.facts.sequence ? `${path}/frames` : path).split('/'));
}
