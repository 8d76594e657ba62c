/** Events whose source is away read a part of it, where one is attached that holds all their frames. */
import { linkState, linksRead, sourceRendition, sourceState, type Clip, type MediaLink, type Part } from '../../project/clip';
import type { StockView } from '../plan/stock-view';
import { framesRead, type EventUse } from './event-use';

/** The use as it is read now: of the clip itself, or of it as a part of its source alone. */
export function asRead(use: EventUse, stock: StockView): EventUse {
  const { clip } = use;
  if (!clip.parts || sourceState(clip, stock) === 'present') return use;
  const links = linksRead(clip, use.use.trackKind === 'audio', use.named, stock);
  const [link] = links;
  const all = sourceRendition(clip)?.links ?? [];
  const part = link && clip.parts.find((own) => own.position === all.indexOf(link) && holds(own, use, link, stock));
  return part ? { ...use, clip: partClip(clip, part) } : use;
}

function holds({ links: [link], range }: Part, use: EventUse, source: MediaLink, stock: StockView): boolean {
  if (linkState(link, stock) !== 'present') return false;
  const { rate, startFrame, durationFrames, kind } = source.expected;
  const read = framesRead(use, { kind: kind ?? 'other', rate, startFrame, durationFrames });
  return read.start >= range.start && read.end <= range.end;
}

const made = new WeakMap<Clip, Map<string, Clip>>();

/** Whose source is that one file. */
function partClip(clip: Clip, part: Part): Clip {
  const own = made.get(clip) ?? new Map<string, Clip>();
  made.set(clip, own);
  const known = own.get(part.id);
  if (known) return known;
  const source = sourceRendition(clip)!;
  const { mediaStart } = clip;
  const at = part.links[0].expected.partOf;
  // Without a start of their own, events count as the whole is counted.
  const begin = mediaStart && at && mediaStart.rate.num * at.rate.den === at.rate.num * mediaStart.rate.den ? { ...mediaStart, value: mediaStart.value + part.range.start } : null; // prettier-ignore
  const { parts: _parts, ...rest } = clip;
  const alone: Clip = {
    ...rest,
    mediaStart: begin,
    renditions: clip.renditions.map((rendition) =>
      rendition === source ? { ...source, links: [{ ...part.links[0], standsForWhole: true as const }] } : rendition,
    ),
  };
  own.set(part.id, alone);
  return alone;
}
