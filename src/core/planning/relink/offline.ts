/** What of a project cannot be read, and what of it is used. */
import { linkState, sourceRendition, sourceState, type Clip, type LinkState, type MediaLink } from '../../project/clip';
import type { Snapshot } from '../plan/snapshot';
import { stockOf, type StockView } from '../plan/stock-view';
import type { EventUse } from '../taking/event-use';
import { asRead } from '../taking/part-read';
import { forEachEventUse } from '../taking/used-media';

export interface OfflineLink {
  readonly key: string;
  readonly clip: Clip;
  readonly link: MediaLink;
  readonly position: number;
  readonly state: LinkState;
  /** The link as it is read now, where a copy stands for the one that is linked. */
  readonly readNow?: MediaLink;
}

/** What of a project is not there, and what of it is used. */
export interface Offline {
  readonly links: readonly OfflineLink[];
  /** Read from a copy, since the linked file is gone from its shelf: it may have been moved there. */
  readonly gone: readonly OfflineLink[];
  readonly uses: ReadonlyMap<string, readonly EventUse[]>;
}

export function findOffline(snapshot: Snapshot): Offline {
  const stock = stockOf(snapshot);
  const away = offlineLinks(snapshot, stock);
  const gone = goneAtHome(snapshot, stock);
  const uses = usesOfClips(snapshot, new Set([...away, ...gone].map(({ clip }) => clip.id)));
  // What attached parts of the source hold for all its events is not missed.
  const isHeld = ({ clip }: OfflineLink) => {
    const own = uses.get(clip.id) ?? [];
    return clip.parts !== undefined && own.length > 0 && own.every((use) => asRead(use, stock) !== use);
  };
  return { links: away.filter((link) => !isHeld(link)), gone, uses };
}

function offlineLinks(snapshot: Snapshot, stock: StockView): OfflineLink[] {
  return snapshot.clips.flatMap((clip): OfflineLink[] => {
    const state = sourceState(clip, stock);
    if (state === 'present') return [];
    const links = sourceRendition(clip)?.links ?? [];
    return links.flatMap((link, position) => {
      // Of several items only those that are not there; a clip of one is judged as a clip.
      const own = links.length > 1 ? linkState(link, stock) : state;
      return own === 'present' ? [] : [{ key: position === 0 ? clip.id : `${clip.id} ${position}`, clip, link, position, state: own }];
    });
  });
}

function goneAtHome(snapshot: Snapshot, stock: StockView): OfflineLink[] {
  return snapshot.clips.flatMap((clip): OfflineLink[] => {
    if (clip.setAside) return [];
    return (sourceRendition(clip)?.links ?? []).flatMap((readNow, position) => {
      const { linkedAt, ...link } = readNow;
      if (!linkedAt || !stock.isAttached(linkedAt.shelfId) || stock.itemAt(linkedAt) !== null) return [];
      if (linkState(readNow, stock) !== 'present') return [];
      const key = position === 0 ? clip.id : `${clip.id} ${position}`;
      return [{ key, clip, link: { ...link, place: linkedAt }, position, state: 'present', readNow }];
    });
  });
}

/** Uses of these clips, by clip id. */
function usesOfClips(snapshot: Snapshot, clipIds: ReadonlySet<string>): Map<string, EventUse[]> {
  const uses = new Map<string, EventUse[]>();
  const timelineIds = snapshot.timelines.map(({ id }) => id);
  const keep = (use: EventUse) => {
    const list = uses.get(use.clip.id);
    if (list) list.push(use);
    else uses.set(use.clip.id, [use]);
  };
  forEachEventUse(snapshot, timelineIds, true, keep, clipIds);
  return uses;
}
