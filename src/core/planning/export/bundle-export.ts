/** A timeline with its media: a ZIP file or a folder, as OTIO bundles are. */
import { handedOn, missingReference } from '../../interchange/otio/handed-on';
import { formatOtio, withReferences } from '../../interchange/otio/otio-writer';
import { relativeAddress } from '../../interchange/otio/target-url';
import { below, fileName, folderOf, joinPath, type Item } from '../../media/item';
import { NameRegister, portableName, splitExtension } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import { entriesOf, frameCondition, guardedSequence, isMedia, offline } from './export-media';
import { framesOf } from '../package/package-layout';
import { precondition, type Step, type ZipEntry } from '../plan/step';
import type { TimelineSnapshot } from '../plan/snapshot';
import type { ExportFormatEntry, Exporting, Made } from './exporting';

/** Media of a bundle and its path in there. */
interface Inside {
  readonly item: Item;
  readonly path: string;
}

export const otiozExport: ExportFormatEntry = { write: (out, timeline) => bundle(out, timeline, 'otioz') };
export const otiodExport: ExportFormatEntry = { write: (out, timeline) => bundle(out, timeline, 'otiod') };

/** Media goes in whole; what is offline becomes a missing reference that remembers its address. */
function bundle(out: Exporting, timeline: TimelineSnapshot, format: 'otioz' | 'otiod'): Made {
  const path = out.names.claim('', `${portableName(timeline.model.name)}.${format}`);
  const inside = new NameRegister();
  const taken = new Map<string, { item: Item; path: string }>();
  const lost: string[] = [];
  const inPlace = withReferences(timeline.document, (index, old) => {
    const link = out.linkOf(timeline, index);
    const item = link?.place && out.stock.isAttached(link.place.shelfId) ? out.stock.itemAt(link.place) : null;
    if (!item) {
      if (!old || !isMedia(old)) return null;
      lost.push(link?.expected.name || (typeof old.name === 'string' ? old.name : '') || 'unnamed media');
      return missingReference(old);
    }
    let entry = taken.get(item.id);
    if (!entry) {
      const name = item.facts.sequence ? splitExtension(trimEndOf(item.facts.sequence.prefix, /[._-]/) || 'sequence')[0] : fileName(item.place.path);
      entry = { item, path: inside.claim('media', name) };
      taken.set(item.id, entry);
    }
    return out.sourceReference(out.clipOf(timeline, index)!, item, old, addressIn(entry), timeline.model.rate);
  });
  // Nothing leads out of a bundle, in whatever reference or text.
  const links = new Set([...taken.values()].map((entry) => (entry.item.facts.sequence ? folderOf(addressIn(entry)) : addressIn(entry))));
  const { document } = handedOn(inPlace, (url) => links.has(url.endsWith('/') ? url.slice(0, -1) : url), missingReference);
  const text = formatOtio(document);
  const media = [...taken.values()];
  const mediaBytes = media.reduce((sum, { item }) => sum + item.sizeBytes, 0);
  const findings = lost.length === 0 ? [] : [offline(lost, 'They are in the timeline as missing, with the names of their files.')];
  const steps = format === 'otioz' ? [zip(out, path, text, media, mediaBytes)] : folder(out, path, text, media);
  return { steps, rows: [out.row(timeline, path, mediaBytes + text.length, media.length)], findings };
}

function heldFrames(out: Exporting, item: Item): readonly string[] | null {
  return out.snapshot.frames?.get(item.id) ?? null;
}

function zip(out: Exporting, path: string, text: string, media: readonly Inside[], mediaBytes: number): Step {
  const entries: ZipEntry[] = [
    { path: 'content.otio', text },
    { path: 'version.txt', text: '1.0.0' },
    ...media.flatMap(({ item, path: inside }): ZipEntry[] => {
      const frames = entriesOf(item);
      const held = heldFrames(out, item);
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
    to: below(out.root, path),
    expectedBytes: mediaBytes + new TextEncoder().encode(text).length + entries.length * 300,
    bytesExact: false,
    reason: media.length === 1 ? 'the timeline and 1 media file' : `the timeline and ${media.length} media files`,
    mustHold: null,
    content: { type: 'zip', entries, sequences: media.flatMap(({ item }) => guardedSequence(item)) },
  };
}

function folder(out: Exporting, path: string, text: string, media: readonly Inside[]): Step[] {
  const copies = media.map(({ item, path: inside }): Step => {
    const base = { phase: 0, to: below(out.root, `${path}/${inside}`), expectedBytes: item.sizeBytes, reason: 'media of the bundle' };
    const { sequence } = item.facts;
    return sequence
      ? {
          ...base,
          action: 'frames',
          from: { shelfId: item.place.shelfId, path: folderOf(item.place.path) },
          mustHold: precondition(item),
          bytesExact: false,
          ...framesOf(sequence, heldFrames(out, item)),
          sequence,
        }
      : { ...base, action: 'copy', from: item.place, mustHold: precondition(item), bytesExact: true };
  });
  return [
    ...copies,
    out.write(`${path}/version.txt`, '1.0.0', 'version of the bundle'),
    // Last, and only when all media is there: without it no tool takes the folder for a bundle.
    { ...out.write(`${path}/content.otio`, text, 'the timeline of the bundle'), phase: 1, content: { type: 'timeline', text, parts: [] } } as Step,
  ];
}

/** Of media inside a bundle, as its timeline addresses it; of a sequence one of its frames. */
function addressIn({ item, path }: { readonly item: Item; readonly path: string }): string {
  return relativeAddress((item.facts.sequence ? `${path}/frames` : path).split('/'));
}
