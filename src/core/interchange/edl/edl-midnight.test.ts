/** Lists at their edges: midnight on either side, source before zero, and what a transition comes from. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { activeReference, clipEvents, type Timeline } from '../../project/timeline';
import { rate } from '../../time/rate';
import { framesPerDay, frameToTimecode } from '../../time/timecode';
import { formatOtio, clipDocument, externalReference, rationalTime, timelineDocument, timeRange, trackDocument } from '../otio/otio-writer';
import { readTimelineFile } from '../read-timeline-file';
import { writeEdl } from './edl-writer';

const PAL = rate(25);
const read = (text: string, r = PAL) => readTimelineFile(text, r);
const events = (timeline: Timeline) =>
  [...clipEvents(timeline.tracks)].map((event) => [event.sourceIn.value, event.sourceDuration.value, event.start, event.durationFrames]);

describe('midnight in a list', () => {
  it('an out point below the in point is the next day, on the source side and on the record side', () => {
    const { timelines, findings } = read(`TITLE: NIGHT POUR
001  A001     V     C        23:59:59:13 00:00:02:00 23:59:58:00 00:00:00:12
002  A002     V     C        10:00:00:00 10:00:02:00 00:00:00:12 00:00:02:12
`);
    expect(findings).toEqual([]);
    const day = 24 * 3600 * 25;
    expect(events(timelines[0]!.timeline)).toEqual([
      [day - 12, 62, 0, 62],
      [900_000, 50, 62, 50],
    ]);
  });

  it('a source read backwards is none', () => {
    const { timelines } = read(`001  A001     V     C        10:00:02:00 10:00:00:00 01:00:00:00 01:00:02:00
M2   A001       -025.0                10:00:02:00
`);
    expect(events(timelines[0]!.timeline)).toEqual([[900_000, 50, 0, 50]]);
  });

  it('what is written past midnight, drop-frame and not, is read back frame for frame', () => {
    const rates = fc.constantFrom([25, 1, false], [30_000, 1001, true], [30_000, 1001, false], [24, 1, false]);
    fc.assert(
      fc.property(rates, fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 10, max: 900 }), (own, before, recordBefore, length) => {
        const [num, den, dropFrame] = own as [number, number, boolean];
        const r = rate(num, den);
        const day = framesPerDay(r, dropFrame);
        const clips = [0, 1].map((index) =>
          clipDocument(`c${index}`, timeRange(day - before + index * length, length, r), externalReference(`c${index}.mov`, `c${index}`, null)),
        );
        const document = timelineDocument('Night', rationalTime(day - recordBefore, r), [trackDocument('V1', 'Video', clips)], { mill_shelf: { drop_frame: dropFrame } });
        const { timeline } = read(formatOtio(document), r).timelines[0]!;
        const { files } = writeEdl(timeline, (event) => ({ reel: event.name, file: `${event.name}.mov`, offsetFrames: 0 }));
        const back = read(files[0]!.text, r).timelines[0]!.timeline;
        // A source that lies wholly in the next day is told by its label alone.
        const wrapped = events(timeline).map(([sourceIn, ...rest]) => [sourceIn! >= day ? sourceIn! - day : sourceIn, ...rest]);
        expect(events(back)).toEqual(wrapped);
        expect(back.startFrame).toBe(timeline.startFrame);
      }),
      { numRuns: 60 },
    ); // prettier-ignore
  });

  it('a source before 00:00:00:00 begins there, and the finding says so', () => {
    const clip = clipDocument('early', timeRange(-10, 50, PAL), externalReference('early.mov', 'early', null));
    const { timeline } = read(formatOtio(timelineDocument('T', rationalTime(90_000, PAL), [trackDocument('V1', 'Video', [clip])]))).timelines[0]!;
    const { files, findings } = writeEdl(timeline, () => ({ reel: 'A001', file: 'early.mov', offsetFrames: 0 }));
    expect(files[0]!.text).toContain(`${frameToTimecode(0, PAL, false)} ${frameToTimecode(50, PAL, false)} 01:00:00:00`);
    expect(findings.map((finding) => finding.code)).toEqual(['edl-before-midnight']);
  });
});

describe('a transition', () => {
  // As the CMX 3600 adapter of OpenTimelineIO writes it (to_edl_format of its dissolve).
  const LIST = `TITLE: RING
001  Clip1    V     C        00:00:04:00 00:00:07:08 00:00:00:00 00:00:03:08
002  Clip1    V     C        00:00:07:08 00:00:07:08 00:00:03:08 00:00:03:08
002  Clip2    V     D    024 00:00:09:07 00:00:17:15 00:00:03:08 00:00:11:16
* FROM CLIP NAME:  First bell
* FROM FILE: /var/first.mov
* TO CLIP NAME:  Second bell
* TO FILE: /var/second.mov
`;

  it.each(['FILE', 'CLIP'])('links the incoming clip to its own file (FROM and TO %s)', (word) => {
    const text = LIST.replaceAll('FROM FILE', `FROM ${word}`).replaceAll('TO FILE', `TO ${word}`);
    const all = [...clipEvents(read(text).timelines[0]!.timeline.tracks)];
    expect(all.map((event) => [event.name, activeReference(event)!.url])).toEqual([
      ['Clip1', '/var/first.mov'],
      ['Second bell', '/var/second.mov'],
    ]);
  });
});
