/** What of a project cannot be read, and what of it is used. */
import {
  isInParts,
  linksRead,
  linkState,
  sourceRendition,
  sourceState,
  type Clip,
  type LinkState,
  type MediaLink,
  type Part,
} from '../../project/clip';
import type { Snapshot } from '../plan/snapshot';
import { stockOf, type StockView } from '../plan/stock-view';
import type { EventUse } from '../taking/event-use';
import { asRead, partClip, readIn } from '../taking/part-read';
import { forEachEventUse } from '../taking/used-media';

export interface OfflineLink {
  readonly key: string;
  readonly clip: Clip;
  readonly link: MediaLink;
  readonly position: number;
  readonly state: LinkState;
  /** The link as it is read now, where a copy stands for the one that is linked. */
  readonly readNow?: MediaLink;
  /** Events that read it, or would. */
  readonly uses: readonly EventUse[];
}

type Away = Omit<OfflineLink, 'uses'>;

/** What of a project is not there, and what of it is used. */
export interface Offline {
  readonly links: readonly OfflineLink[];
  /** Read from a copy, since the linked file is gone from its shelf: it may have been moved there. */
  readonly gone: readonly OfflineLink[];
}

export function findOffline(snapshot: Snapshot): Offline {
  const stock = stockOf(snapshot);
  const away = offlineLinks(snapshot, stock);
  const gone = goneAtHome(snapshot, stock);
  const uses = usesOfClips(snapshot, new Set([...away, ...gone].map(({ clip }) => clip.id)));
  const usesOf = ({ id }: Clip) => uses.get(id) ?? [];
  const links = away.flatMap((own): OfflineLink[] => {
    const { clip, link } = own;
    if (isInParts(clip) && !clip.setAside) return [];
    const all = usesOf(clip);
    // What attached parts of the source hold for all its events is not missed.
    const isHeld = clip.parts !== undefined && all.length > 0 && all.every((use) => asRead(use, stock) !== use);
    return isHeld ? [] : [{ ...own, uses: reading(link, all, stock) }];
  });
  const parts = snapshot.clips.flatMap((clip) => (isInParts(clip) && !clip.setAside ? missedOf(clip, clip.parts, usesOf(clip), stock) : []));
  return { links: [...links, ...parts], gone: gone.map((own) => ({ ...own, uses: reading(own.readNow ?? own.link, usesOf(own.clip), stock) })) };
}

/** Of a source that was never here whole: its parts that are not there, and the whole for events that none of them holds. */
function missedOf(clip: Clip, parts: readonly Part[], uses: readonly EventUse[], stock: StockView): OfflineLink[] {
  const missed = uses.filter((use) => asRead(use, stock) === use);
  const byPart = new Map<string, EventUse[]>();
  const unheld: EventUse[] = [];
  for (const use of missed) {
    let heldBy: Part | null = null;
    const read = readIn(use, stock, (part) => {
      heldBy = part;
      return true;
    });
    if (heldBy === null) unheld.push(use);
    else byPart.set((heldBy as Part).id, [...(byPart.get((heldBy as Part).id) ?? []), read]);
  }
  const away = parts.filter((part) => linkState(part.links[0], stock) !== 'present' && (byPart.has(part.id) || uses.length === 0));
  const ofParts = away.map((part): OfflineLink => {
    const alone = partClip(clip, part);
    const [link] = sourceRendition(alone)!.links;
    return {
      key: `${clip.id} part ${part.id}`,
      clip: alone,
      link: link!,
      position: 0,
      state: linkState(link!, stock),
      uses: byPart.get(part.id) ?? [],
    };
  });
  const whole = (sourceRendition(clip)?.links ?? []).flatMap((link, position): OfflineLink[] => {
    const own = reading(link, unheld, stock);
    return own.length === 0 ? [] : [{ key: position === 0 ? clip.id : `${clip.id} ${position}`, clip, link, position, state: 'missing', uses: own }];
  });
  return [...ofParts, ...whole];
}

/** Uses that read this item of the clip: picture and sound are measured each against its own. */
function reading(link: MediaLink, uses: readonly EventUse[], stock: StockView): EventUse[] {
  return uses.filter(({ clip, use, named }) => linksRead(clip, use.trackKind === 'audio', named, stock).includes(link));
}

function offlineLinks(snapshot: Snapshot, stock: StockView): Away[] {
  return snapshot.clips.flatMap((clip): Away[] => {
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

function goneAtHome(snapshot: Snapshot, stock: StockView): Away[] {
  return snapshot.clips.flatMap((clip): Away[] => {
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
