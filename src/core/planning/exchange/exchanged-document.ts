/** The document of a timeline whose events read other items: only their references are others. */
import { externalReference, inPlaceOf, sequenceReference, timeRange, withReferences } from '../../interchange/otio/otio-writer';
import { isObject, type OtioObject } from '../../interchange/otio/otio-types';
import type { Item } from '../../media/item';
import type { Conform } from '../../project/clip';
import { isRateNumber, rateFromNumber, type Rate } from '../../time/rate';
import type { ExchangeChange } from './exchange';

export interface ExchangedItem {
  readonly item: Item;
  /** Address of the file, or of the folder of its frames. */
  readonly address: string;
  readonly name: string;
  readonly conform: Conform;
  /** At which its frames are counted where it has no rate of its own. */
  readonly rate?: Rate;
}

/** `media`: beside those of the change. */
export function exchangedDocument(document: OtioObject, { name, events }: ExchangeChange, media: readonly ExchangedItem[]): OtioObject {
  const byIndex = new Map(events.map((event) => [event[0], event]));
  const reference = (index: number, old: OtioObject | null): OtioObject | null => {
    const event = byIndex.get(index);
    return event ? referenceTo(media[event[1]]!, event[2], old) : null;
  };
  return withReferences({ ...document, name }, reference, null, true);
}

/** Journals of before say no more than where the event counts. */
function rateOf(available: OtioObject | null): Rate | null {
  const length = available && isObject(available.duration) ? available.duration.rate : null;
  return isRateNumber(length) ? rateFromNumber(length) : null;
}

const PAL: Rate = { num: 25, den: 1 };

function referenceTo(
  { item: { facts }, address, name, conform, rate }: ExchangedItem,
  available: OtioObject | null,
  old: OtioObject | null,
): OtioObject {
  // What was said of the other file is not true of this one.
  const metadata: OtioObject = conform === 'by-frame' ? { mill_shelf: { conform } } : {};
  const bounds = { available_image_bounds: old?.available_image_bounds ?? null };
  const { sequence } = facts;
  if (facts.kind !== 'sequence' || !sequence) {
    const kept = available ?? (old && isObject(old.available_range) ? old.available_range : null);
    return inPlaceOf(bounds, externalReference(address, name, kept, metadata));
  }
  const { prefix, suffix, padding, firstNumber } = sequence;
  const own = facts.rate ?? rate ?? rateOf(available) ?? PAL;
  const range = available ?? timeRange(0, facts.durationFrames ?? 0, own);
  return inPlaceOf(bounds, sequenceReference({ folderUrl: address, prefix, suffix, padding, startNumber: firstNumber, rate: own }, name, range, metadata)); // prettier-ignore
}
