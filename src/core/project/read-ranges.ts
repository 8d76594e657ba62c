/**
 * The frames that timelines read of their items, without the rest: most rows are moved by a number of frames that is
 * known already, and are then a sum and no more.
 */
import type { UnstatedSpan } from './counting';
import { COLUMNS, FRAMES, referenceKey, RowUse, type ReadUse, type TimelineReads } from './reads';

/** Who is told. Owners of clips are numbers from 0. */
export interface RangeListener {
  /**
   * By how many frames the source frames of every row of this owner with the reference, the rate and the kind of track
   * of this one are moved to be frames of the item; null where each is reckoned for itself.
   */
  shift(owner: number, use: ReadUse, span: UnstatedSpan | null): number | null;
  /** Item frames that a row reads. */
  range(owner: number, start: number, end: number, sound: boolean): void;
  /** A row that has no shift. `named`: item of the clip that the event names; null where its track decides. */
  each(owner: number, use: ReadUse, named: number | null, span: UnstatedSpan | null): void;
}

export class ReadRanges {
  /** Every way of reading, by number: its reference, rate and kind of track. */
  private readonly ways = new Map<string, number>();
  /** By owner: the way that was asked for last, and the answer (NaN: none). Most clips are read in one way by all timelines. */
  private readonly asked: Int32Array;
  private readonly answers: Float64Array;
  private timelines = 0;

  constructor(
    owners: number,
    private readonly listener: RangeListener,
  ) {
    this.asked = new Int32Array(owners).fill(-1);
    this.answers = new Float64Array(owners);
  }

  /** Tells every row of a timeline that counts. `owners`: by clip of the timeline; rows of a clip with -1 are left out. */
  tell(reads: TimelineReads, owners: Int32Array, countDisabled: boolean): void {
    const { spans, places, frames } = reads;
    const { asked, answers, listener } = this;
    const rates = reads.rates.length;
    const isSound = reads.lanes.map(({ trackKind }) => trackKind === 'audio');
    const known = new Map<number, number>();
    this.timelines++;
    for (let row = 0, at = 0; at < places.length; row++, at += COLUMNS) {
      if (!countDisabled && places[at + 8] === 0) continue;
      const clip = places[at + 1]!;
      const owner = owners[clip]!;
      if (owner < 0) continue;
      const sound = isSound[places[at + 3]!]!;
      const alike = (places[at + 4]! * rates + places[at + 5]!) * 2 + (sound ? 1 : 0);
      let way = known.get(alike);
      if (way === undefined) known.set(alike, (way = this.wayOf(reads, places[at + 4]!, places[at + 5]!, sound)));
      if (asked[owner] !== way) {
        asked[owner] = way;
        answers[owner] = listener.shift(owner, new RowUse(reads, row), spans[clip]!) ?? NaN;
      }
      const shift = answers[owner]!;
      // Bounds between frames are rounded outwards already, and stay so when whole frames are added.
      if (shift === shift) {
        listener.range(owner, frames[row * FRAMES]! + shift, frames[row * FRAMES + 1]! + shift, sound);
        continue;
      }
      const named = places[at + 7]!;
      listener.each(owner, new RowUse(reads, row), named < 0 ? null : named, spans[clip]!);
    }
  }

  /** Where a reference does not state its start, all events of the timeline decide together: that is no other's way. */
  private wayOf({ references, rates }: TimelineReads, reference: number, rate: number, sound: boolean): number {
    const stated = references[reference]![0];
    const start = stated?.availableStart;
    const { num, den } = rates[rate]!;
    const key = `${referenceKey(references[reference]!)}, ${start ? '' : `unstated ${this.timelines}`}, ${num} ${den} ${sound}`;
    const way = this.ways.get(key) ?? this.ways.size;
    this.ways.set(key, way);
    return way;
  }
}
