/** Sums over all that a timeline reads, kept while neither its clips nor their files are others: a relink of one clip sums few anew. */
import { createHash } from 'node:crypto';
import type { TimelineSnapshot } from '../../core/planning/plan';
import type { StockView } from '../../core/planning/stock-view';
import { sourceRendition, type Clip } from '../../core/project/clip';

export interface Seconds {
  /** Length of all files the timeline uses. */
  readonly mediaSeconds: number;
  /** What of them it uses. */
  readonly usedSeconds: number;
}

/** What of a clip and its files sums depend on, in few letters. */
export class ClipDigests {
  private readonly known = new Map<string, string>();

  constructor(
    private readonly clips: ReadonlyMap<string, Clip>,
    private readonly stock: StockView,
  ) {}

  of(clipId: string): string {
    const known = this.known.get(clipId) ?? this.made(clipId);
    this.known.set(clipId, known);
    return known;
  }

  private made(clipId: string): string {
    const clip = this.clips.get(clipId);
    if (!clip) return '';
    const links = (sourceRendition(clip)?.links ?? []).map(({ place, url, expected }) => {
      const item = place ? this.stock.itemAt(place) : null;
      return [place, url, expected, item?.id, item?.facts];
    });
    return createHash('sha1')
      .update(JSON.stringify([clip.mediaStart, clip.conform, links]))
      .digest('base64')
      .slice(0, 16);
  }
}

export class TimelineFigures {
  private readonly kept = new Map<string, { made: string; seconds: Seconds }>();

  of(timeline: TimelineSnapshot, digests: ClipDigests, sum: () => Seconds): Seconds {
    const hash = createHash('sha1');
    // Which event uses which clip never changes but when a clip goes.
    for (const id of new Set(timeline.clipIds)) hash.update(id === null ? '-' : `${id}${digests.of(id)}`);
    const made = hash.digest('base64');
    const known = this.kept.get(timeline.id);
    if (known?.made === made) return known.seconds;
    const seconds = sum();
    this.kept.set(timeline.id, { made, seconds });
    return seconds;
  }
}
