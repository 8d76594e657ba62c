/** All a planner knows: read once, never changed. */
import type { OtioObject } from '../../interchange/otio/otio-types';
import type { Item, Place } from '../../media/item';
import type { ShelfKind } from '../../media/shelf-kind';
import type { Clip } from '../../project/clip';
import type { Homes } from '../../rendition/homes';
import type { ReadOrder } from '../../rendition/read-order';
import type { TimelineReads } from '../../project/reads';
import type { Timeline } from '../../project/timeline';
import type { Rate } from '../../time/rate';

export interface ShelfSnapshot {
  readonly id: string;
  readonly name: string;
  /** Absent: a working drive. */
  readonly kind?: ShelfKind;
  readonly attached: boolean;
  readonly writable: boolean;
  /** Null where the file system does not tell. */
  readonly capacityBytes: number | null;
  readonly freeBytes: number | null;
  /** The same text for shelves on one disk; absent of what is unplugged. */
  readonly disk?: string;
}

export interface TimelineSnapshot {
  readonly id: string;
  /** Where it is known without the model. */
  readonly name?: string;
  readonly model: Timeline;
  readonly document: OtioObject;
  /** Clip of each event by its index; null for generators and the like. */
  readonly clipIds: readonly (string | null)[];
  /** Item of the clip that each event names, by its position; null or absent where its track decides. */
  readonly positions?: readonly (number | null)[];
  /** What it reads, where that is kept; see readsOf. */
  readonly reads?: TimelineReads;
}

export interface Snapshot {
  readonly project: {
    readonly id: string;
    readonly name: string;
    readonly rate: Rate;
    readonly dropFrame: boolean;
    readonly readOrder?: ReadOrder;
    readonly homes?: Homes;
  };
  readonly clips: readonly Clip[];
  readonly timelines: readonly TimelineSnapshot[];
  readonly shelves: readonly ShelfSnapshot[];
  readonly items: readonly Item[];
  /** Names of shelves that were taken off the list, by their id: clips may still link them. */
  readonly retiredShelves?: ReadonlyMap<string, string>;
  /** Sealed packages, where they lie. */
  readonly sealed?: readonly { readonly place: Place; readonly name: string }[];
  /** By item id: identity of each frame that is there, in order; only where a planner asked for it. */
  readonly frames?: ReadonlyMap<string, readonly string[]>;
}

export function timelineName(timeline: TimelineSnapshot): string {
  return timeline.name ?? timeline.model.name;
}

/** What a shelf is called, as far as it is known. */
export function shelfNameIn({ shelves, retiredShelves }: Pick<Snapshot, 'shelves' | 'retiredShelves'>, shelfId: string): string {
  const retired = retiredShelves?.get(shelfId);
  return shelves.find((shelf) => shelf.id === shelfId)?.name ?? (retired === undefined ? 'an unknown shelf' : `${retired} (off the list)`);
}
