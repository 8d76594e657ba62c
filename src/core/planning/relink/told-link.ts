/** What is known of media that was never linked to a file: what its timelines and its clip say of it. */
import { tellingNames, widened, type ReadSpan, type Told } from '../../matching/told';
import { lastName } from '../../matching/plain-name';
import type { Clip, MediaLink } from '../../project/clip';
import { activeReference } from '../../project/timeline';
import type { EventUse } from '../taking/event-use';

/** Whether nothing of a file's content is remembered: it can only be found by what is told of it. */
export function isToldOnly({ expected }: MediaLink): boolean {
  return expected.fingerprint === null && !expected.sha256;
}

export function toldOfLink({ expected }: MediaLink, clip: Clip, uses: readonly EventUse[]): Told {
  const reads = new Map<string, ReadSpan>();
  for (const { use } of uses) {
    const start = activeReference(use.event)?.availableStart ?? null;
    const span = { first: { value: use.source.start, rate: use.rate }, last: { value: use.source.end, rate: use.rate }, start };
    const key = start === null ? '' : `${start.value} ${start.rate.num}/${start.rate.den}`;
    const known = reads.get(key);
    reads.set(key, known ? widened(known, span) : span);
  }
  const { marks } = clip;
  if (uses.length === 0 && marks && marks.inFrame !== null && marks.outFrame !== null)
    reads.set('', { first: { value: marks.inFrame, rate: marks.rate }, last: { value: marks.outFrame, rate: marks.rate }, start: clip.mediaStart });
  const kinds = new Set(uses.map(({ use }) => use.trackKind));
  const { durationFrames, startFrame, rate, told } = expected;
  return {
    names: tellingNames([expected.name, ...(told?.names ?? []), clip.name].map(lastName)),
    reels: [expected.reel ?? '', ...(told?.reels ?? [])].filter((reel) => reel !== ''),
    reads: [...reads.values()],
    wants: wanted(expected.kind, kinds),
    length: durationFrames !== null && rate !== null ? { value: durationFrames, rate } : null,
    start: startFrame !== null && startFrame !== 0 && rate !== null ? { value: startFrame, rate } : null,
  };
}

function wanted(kind: MediaLink['expected']['kind'], kinds: ReadonlySet<string>): Told['wants'] {
  if (kind === 'audio') return 'sound';
  return kinds.has('video') ? 'picture' : kinds.has('audio') ? 'sound' : 'any';
}
