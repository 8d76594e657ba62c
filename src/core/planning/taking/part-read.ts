/** Events whose source is away read a part of it, where one is attached that holds all their frames. */
import { linkState, linksRead, renditionState, sourceRendition, sourceState, type Clip, type Part } from '../../project/clip';
import { kindsRead, READ_AT_FIRST } from '../../rendition/read-order';
import type { FrameRange } from '../../time/range';
import type { ItemKind } from '../../media/item';
import type { Rate } from '../../time/rate';
import type { StockView } from '../plan/stock-view';
import { framesRead, type EventUse } from './event-use';

/** The use as it is read now: of the clip itself, or of it as a part of its source alone. */
export function asRead(use: EventUse, stock: StockView): EventUse {
  if (!use.clip.parts || sourceState(use.clip, stock) === 'present') return use;
  return readIn(use, stock, (part) => linkState(part.links[0], stock) === 'present');
}

/** Whether what was made of one of its parts holds all its frames, stands there, and is of a kind that is read. */
export function isInPartCopy(use: EventUse, stock: StockView): boolean {
  const kinds = kindsRead(stock.readOrder ?? READ_AT_FIRST);
  const held = heldFrames(use, stock);
  return (
    held !== null &&
    (use.clip.partCopies ?? []).some((own) => kinds.includes(own.kind) && holds(own, held) && renditionState(own, stock) === 'present')
  );
}

function holds(own: Pick<Part, 'position' | 'range'>, { position, read }: HeldFrames): boolean {
  return own.position === position && read.start >= own.range.start && read.end <= own.range.end;
}

interface HeldFrames {
  readonly facts: { readonly kind: ItemKind; readonly rate: Rate | null; readonly startFrame: number | null; readonly durationFrames: number | null };
  readonly position: number;
  readonly read: FrameRange;
}

/** Which frames of which item of its source it reads, as far as the whole is known. */
function heldFrames(use: EventUse, stock: StockView): HeldFrames | null {
  const links = linksRead(use.clip, use.use.trackKind === 'audio', use.named, stock);
  const [link] = links;
  if (!link) return null;
  const { rate, startFrame, durationFrames, kind } = link.expected;
  const facts = { kind: kind ?? ('other' as const), rate, startFrame, durationFrames };
  return { facts, position: (sourceRendition(use.clip)?.links ?? []).indexOf(link), read: framesRead(use, facts) };
}

/** The use as one of the parts that may be read, where such a part holds all its frames. */
export function readIn(use: EventUse, stock: StockView, mayRead: (part: Part) => boolean): EventUse {
  const { clip } = use;
  const held = heldFrames(use, stock);
  const part = held && clip.parts?.find((own) => holds(own, held) && mayRead(own));
  return part ? { ...use, clip: partClip(clip, part), within: { use, facts: held.facts, start: part.range.start } } : use;
}

const made = new WeakMap<Clip, Map<string, Clip>>();

/** Whose source is that one file, linked by the part. */
export function partClip(clip: Clip, part: Part): Clip {
  const own = made.get(clip) ?? new Map<string, Clip>();
  made.set(clip, own);
  const known = own.get(part.id);
  if (known) return known;
  const source = sourceRendition(clip)!;
  const { mediaStart } = clip;
  const at = part.links[0].expected.partOf;
  // Without a start of their own, events count as the whole is counted.
  const begin = mediaStart && at && mediaStart.rate.num * at.rate.den === at.rate.num * mediaStart.rate.den ? { ...mediaStart, value: mediaStart.value + part.range.start } : null; // prettier-ignore
  const { parts: _parts, partCopies: _copies, ...rest } = clip;
  const alone: Clip = {
    ...rest,
    mediaStart: begin,
    renditions: clip.renditions.map((rendition) =>
      rendition === source ? { ...source, id: part.id, links: [{ ...part.links[0], standsForWhole: true as const }] } : rendition,
    ),
  };
  own.set(part.id, alone);
  return alone;
}
