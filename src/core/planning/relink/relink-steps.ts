/** What a relink does: files that are read whole first, and the links. */
import { fileName, type Item, type Place } from '../../media/item';
import { sameRate } from '../../time/rate';
import { expectedFrom, sourceRendition, type Clip, type Expected, type MediaLink } from '../../project/clip';
import { linkStep, precondition, type CatalogueChange, type Step } from '../plan/step';
import type { RelinkRow } from './relink-groups';

/** Another link for a clip. */
export interface RelinkChange extends CatalogueChange {
  readonly type: 'relink';
  readonly clipId: string;
  readonly renditionId: string;
  readonly position: number;
  readonly link: MediaLink;
  /** Only while the clip is still linked so; absent in older journals. */
  readonly only?: MediaLink;
  /** Files that must be copies of each other, by every byte, when the link is made. */
  readonly equalTo?: readonly Place[];
  /** A clip that is linked another way by now is left so; otherwise the step fails. */
  readonly leaveIfChanged?: boolean;
}

/** What is kept of a clip once it was looked at: not what was found for it, which may be much. */
export interface Looked {
  /** Items that are read whole before the link is made, the chosen one among them. */
  readonly reads: readonly Item[];
  readonly row: RelinkRow;
  /** The step that links it; none where nothing is chosen. */
  readonly links: readonly Step[];
}

/** Reads what must be read, each file once, then links. */
export function stepsOf(looked: readonly Looked[]): Step[] {
  const read = new Map(looked.flatMap(({ reads }) => reads.map((item): [string, Item] => [item.id, item])));
  const checks = [...read.values()].filter((item) => !item.sha256).map(readStep);
  const links = looked.flatMap((entry) => entry.links);
  return checks.length === 0 ? links : [...checks, ...links.map((step) => ({ ...step, phase: 1 }))];
}

function readStep(item: Item): Step {
  return {
    action: 'check',
    phase: 0,
    from: item.place,
    to: null,
    expectedBytes: item.sizeBytes,
    bytesExact: true,
    reason: 'read whole: others have the same fingerprint',
    mustHold: precondition(item),
    sha256: null,
  };
}

export function relinkStep(row: RelinkRow, clip: Clip, item: Item | null, reads: readonly Item[]): Step[] {
  const rendition = sourceRendition(clip);
  if (!item || !rendition) return [];
  const match = row.matches.find((entry) => entry.itemId === row.chosen)!;
  const old = rendition.links[row.position]!;
  // What the timeline said of it is kept: exports say it again, and it is found by it again.
  const told = match.by === null ? {} : { told: { names: [old.expected.name, ...(old.expected.told?.names ?? [])].filter((name) => name !== ''), reels: [old.expected.reel ?? '', ...(old.expected.told?.reels ?? [])].filter((reel) => reel !== '') } }; // prettier-ignore
  const how = match.by !== null && match.strength === 'matched' ? { matchedBy: match.by } : {};
  const part = isSamePart(old.expected, item) ? { partOf: old.expected.partOf! } : {};
  const link: MediaLink = {
    place: item.place,
    url: row.oldUrl,
    expected: { ...expectedFrom(item, fileName(item.place.path)), ...told, ...how, ...part },
  };
  const change: RelinkChange = {
    type: 'relink',
    clipId: clip.id,
    renditionId: rendition.id,
    position: row.position,
    link,
    only: asLinked(old),
    ...(reads.length > 0 ? { equalTo: reads.map(({ place }) => place) } : {}),
  };
  const by = match.strength === 'matched' ? `matched by ${match.by}, not proven` : 'accepted by you';
  const reason = match.ground ?? (reads.length > 0 ? 'copies of each other' : by);
  return [linkStep(0, reason, change, { from: row.oldPlace, to: item.place, mustHold: precondition(item) })];
}

/** Whether a file holds the frames of a part: the whole source has other lengths. */
function isSamePart({ partOf, durationFrames, rate }: Expected, { facts }: Item): boolean {
  if (!partOf) return false;
  if (durationFrames === null) return true;
  return facts.durationFrames === durationFrames && (rate === null || facts.rate === null || sameRate(rate, facts.rate));
}

/** The link as it is kept, whatever copy is read in its stead. */
function asLinked({ linkedAt, ...link }: MediaLink): MediaLink {
  return linkedAt ? { ...link, place: linkedAt } : link;
}
