/** A timeline as OTIO: links follow the clips to where their files stand now. */
import { isObject, type OtioObject } from '../../interchange/otio/otio-types';
import { formatOtio, withReferences } from '../../interchange/otio/otio-writer';
import { portableName } from '../../naming/safe-name';
import { renditionOfKey } from '../../rendition/reference-keys';
import { offline } from './export-media';
import type { TimelineSnapshot } from '../plan/snapshot';
import type { ExportFormatEntry, Exporting, Made } from './exporting';

export const otioExport: ExportFormatEntry = { write: otio };

/** Links follow the clips to where their files stand now: relative on the same shelf, whole addresses elsewhere. */
function otio(out: Exporting, timeline: TimelineSnapshot): Made {
  const path = out.names.claim('', `${portableName(timeline.model.name)}.otio`);
  const lost: string[] = [];
  const document = withReferences(timeline.document, (index, old) => {
    const link = out.linkOf(timeline, index);
    if (!link?.place) return null;
    const item = out.stock.isAttached(link.place.shelfId) ? out.stock.itemAt(link.place) : null;
    if (!item) {
      lost.push(link.expected.name);
      return null;
    }
    return out.sourceReference(out.clipOf(timeline, index)!, item, old, out.addressOf(item.place), timeline.model.rate);
  }, (index, known, source) => otherReferences(out, timeline, index, known, source)); // prettier-ignore
  const step = out.write(path, formatOtio(document), 'the timeline, linked to where its media stands');
  const findings = lost.length === 0 ? [] : [offline(lost, 'Their links stay as they came.')];
  return { steps: [step], rows: [out.row(timeline, path, step.expectedBytes)], findings };
}

/** References of the clip's other renditions that stand there, under their kind or the key that they have already. */
function otherReferences(
  out: Exporting,
  timeline: TimelineSnapshot,
  index: number,
  known: Readonly<Record<string, OtioObject>>,
  source: OtioObject | null,
): Record<string, OtioObject> {
  const clip = out.clips.get(timeline.clipIds[index] ?? '');
  const found: Record<string, OtioObject> = {};
  if (!clip || out.soundsOf(timeline).has(index)) return found;
  for (const { kind, links } of clip.renditions) {
    const place = links[0]?.place;
    const item = kind !== 'source' && place && out.stock.isAttached(place.shelfId) ? out.stock.itemAt(place) : null;
    if (!item?.facts.video) continue;
    const key = Object.keys(known).find((own) => renditionOfKey(own) === kind) ?? kind;
    // Equal to the source frame for frame, so its frames are counted the same way.
    const old = known[key] ?? { metadata: {}, available_range: source && isObject(source.available_range) ? source.available_range : null };
    found[key] = out.reference(item, old, out.addressOf(item.place), timeline.model.rate);
  }
  return found;
}
