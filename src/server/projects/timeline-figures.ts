/** Sums over all that a timeline reads, kept while neither its clips nor their files are others: a relink of one clip sums few anew. */
import { createHash } from 'node:crypto';
import type { TimelineSnapshot } from '../../core/planning/plan';
import type { StockView } from '../../core/planning/stock-view';
import { sourceRendition, type Clip } from '../../core/project/clip';
import type { Moment } from '../../core/project/moment';
import { placeKey } from '../../core/media/item';

export interface Seconds {
  /** Length of all files the timeline uses. */
  readonly mediaSeconds: number;
  /** What of them it uses. */
  readonly usedSeconds: number;
}

/** What of clips and their files sums depend on, as texts. */
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
    const texts = [clip.mediaStart && momentText(clip.mediaStart), clip.conform];
    for (const { place, url, expected } of sourceRendition(clip)?.links ?? []) {
      const facts = (place ? this.stock.itemAt(place)?.facts : null) ?? expected;
      const sound = 'audio' in facts ? facts.audio.length : null;
      const sequence = 'audio' in facts ? (facts.sequence?.firstNumber ?? null) : null;
      const { rate } = facts;
      texts.push(place ? placeKey(place) : url, `${facts.kind} ${rate && `${rate.num}/${rate.den}`} ${facts.durationFrames} ${facts.startFrame}`, `${sound} ${sequence}`); // prettier-ignore
    }
    return texts.join('\n');
  }
}

function momentText({ value, rate }: Moment): string {
  return `${value} ${rate.num}/${rate.den}`;
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
