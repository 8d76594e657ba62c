import { describe, expect, it } from 'vitest';
import { clipEvents } from '../../project/timeline';
import { rate } from '../../time/rate';
import { readTimelineFile } from '../read-timeline-file';

const LIST = `TITLE: POUR
FCM: NON-DROP FRAME

001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00
* FROM CLIP NAME: FORK
* SOURCE FILE: A001_C001.mov
this line means nothing
002  A002     V     C        09:20:00:00 09:20:61:00 10:00:02:00 10:00:04:00
003  A003     V     D    012 09:30:00:00 09:30:01:00 10:00:02:00 10:00:04:00
* TO CLIP NAME: LADLE
M2   A003       012.5                09:30:00:00
004  BL       V     C        00:00:00:00 00:00:01:00 10:00:04:00 10:00:05:00
005  A004     AA/V  C        09:40:00:00 09:40:01:00 10:00:06:00 10:00:07:00
`;

describe('a CMX 3600 list', () => {
  const { timelines, findings } = readTimelineFile(LIST, rate(25));
  const { timeline } = timelines[0]!;

  it('names the lines it could not read and reads the others', () => {
    expect(findings.map((finding) => [finding.code, finding.where])).toEqual([
      ['edl-unknown-line', 'line 7'],
      ['edl-bad-timecode', 'line 8'],
    ]);
    expect([...clipEvents(timeline.tracks)].map((event) => event.name)).toEqual(['FORK', 'LADLE', 'A004', 'A004', 'A004']);
  });

  it('lays black and gaps, dissolve, speed and channels', () => {
    const picture = timeline.tracks[0]!;
    expect(timeline.startFrame).toBe(900_000);
    expect(picture.items.map((item) => [item.type, item.start, item.durationFrames])).toEqual([
      ['clip', 0, 50],
      ['transition', 50, 12],
      ['clip', 50, 50],
      ['gap', 100, 25],
      ['gap', 125, 25],
      ['clip', 150, 25],
    ]);
    expect(picture.items[2]).toMatchObject({ speed: { num: 1, den: 2 } });
    expect(timeline.tracks.map((track) => [track.name, track.kind])).toEqual([
      ['V1', 'video'],
      ['A1', 'audio'],
      ['A2', 'audio'],
    ]);
  });

  it('is refused when there is nothing in it', () => {
    expect(readTimelineFile('TITLE: EMPTY\n', rate(25)).findings[0]).toMatchObject({ code: 'edl-empty', severity: 'stops' });
    expect(readTimelineFile('Dear editor,\nhere is the cut.', rate(25)).findings[0]).toMatchObject({ code: 'timeline-unknown-format' });
  });
});

describe('what lists hold besides', () => {
  const one = (text: string, r = rate(25)) => readTimelineFile(`TITLE: X\n${text}`, r);
  const first = (text: string, r = rate(25)) => [...clipEvents(one(text, r).timelines[0]!.timeline.tracks)][0]!;
  const EVENT = '001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00\n';

  it('further sound channels, split edits, keys, whole reel names, locators', () => {
    const { timelines, findings } = one(
      `SPLIT:    AUDIO DELAY=  00:00:00:10\n${EVENT}001  A001     NONE  C        09:14:00:10 09:14:02:00 10:00:00:10 10:00:02:00\nAUD   3    4\n` +
        '* FROM CLIP NAME: LADLE\n* FULL REEL NAME: A001_2026_03\n* LOC: 10:00:01:00 GREEN   hum\n' +
        '002  A002     V     K B      09:14:00:00 09:14:02:00 10:00:02:00 10:00:04:00\n',
    );
    expect(findings.map((finding) => finding.code)).toEqual(['edl-key']);
    const tracks = timelines[0]!.timeline.tracks;
    expect(tracks.map((track) => track.name)).toEqual(['V1', 'A3', 'A4']);
    const sound = [...clipEvents(tracks.slice(1, 2))][0]!;
    expect([sound.name, sound.start, sound.references[0]!.reel, sound.markers[0]!.name]).toEqual(['LADLE', 10, 'A001_2026_03', 'hum']);
    expect([...clipEvents(tracks)][0]!.name).toBe('LADLE');
  });

  it('held frames, backwards, speeds of 30 that mean 29.97, and a source of another length', () => {
    expect(first(`${EVENT}* * FREEZE FRAME\n`).speed.num).toBe(0);
    expect(first(`${EVENT}M2   A001       -025.0                09:14:00:00\n`).speed).toEqual({ num: -1, den: 1 });
    const ntsc = '001  A001     V     C        09:14:00:00 09:14:01:00 10:00:00:00 10:00:02:00\nM2   A001       015.0                09:14:00:00\n';
    expect(first(ntsc, rate(30_000, 1001)).speed).toEqual({ num: 1, den: 2 });
    const other = one('001  A001     V     C        09:14:00:00 09:14:03:00 10:00:00:00 10:00:02:00\n');
    expect(other.findings.map((finding) => finding.code)).toEqual(['edl-lengths-differ']);
    expect([...clipEvents(other.timelines[0]!.timeline.tracks)][0]!.speed).toEqual({ num: 3, den: 2 });
  });

  it('drop-frame sources in a list whose record does not drop', () => {
    const event = first(
      'FCM: NON-DROP FRAME\nFCM: DROP FRAME\n001  A001     V     C        00:10:00;00 00:10:02;00 01:00:00:00 01:00:02:00\n',
      rate(30_000, 1001),
    );
    expect(event.sourceIn.value).toBe(17_982);
    expect(one('FCM: NON-DROP FRAME\n' + EVENT, rate(30_000, 1001)).timelines[0]!.timeline.startFrame).toBe(1_080_000);
  });
});
