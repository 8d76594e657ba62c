import { describe, expect, it } from 'vitest';
import { item, cut, PAL, SOUND, snapshot, timeline } from '../../../tests/helpers/snapshots';
import { trackDocument } from '../interchange/otio/otio-writer';
import { recordingOf } from '../media/companions';
import { reportItem, reportUsage, type UsageChoice } from './usage-report';

const base = snapshot({
  timelines: [
    timeline('fine', [cut('a.mov', 10, 20), cut('b.mov', 0, 50)]),
    timeline('trailer', [cut('a.mov', 25, 30), { ...cut('c.mov', 0, 10), enabled: false }]),
  ],
  items: [item('a.mov'), item('b.mov'), item('c.mov'), item('d.mov')],
});
const choice = (own: Partial<UsageChoice>): UsageChoice => ({
  timelineIds: ['fine', 'trailer'],
  bins: [],
  clipIds: [],
  countDisabled: false,
  ...own,
});
const names = (items: readonly { name: string }[]) => items.map((entry) => entry.name);

describe('usage', () => {
  it('unites what all chosen timelines use of an item, and tells who uses which part of the one asked for', () => {
    const report = reportUsage(base, choice({}));
    expect(names(report.items)).toEqual(['a.mov', 'b.mov']);
    const [a, b] = report.items;
    expect([a!.used, a!.unused, a!.usedFrames, a!.useCount, a!.timelineCount]).toEqual([
      [{ start: 10, end: 55 }],
      [
        { start: 0, end: 10 },
        { start: 55, end: 1000 },
      ],
      45,
      2,
      2,
    ]);
    expect(a!.uses).toEqual([]);
    expect(reportItem(base, choice({}), 'A\na.mov')!.uses.map((use) => [use.timelineId, use.recordStart, use.range])).toEqual([
      ['fine', 0, { start: 10, end: 30 }],
      ['trailer', 0, { start: 25, end: 55 }],
    ]);
    expect([b!.useCount, b!.uses]).toEqual([1, []]);
  });

  it('leaves out what is not chosen or switched off: that is never used, or used by asking for it', () => {
    expect(names(reportUsage(base, choice({ timelineIds: ['fine'] })).items)).toEqual(['a.mov', 'b.mov']);
    expect(names(reportUsage(base, choice({})).neverUsed)).toEqual(['c.mov']);
    expect(names(reportUsage(base, choice({ countDisabled: true })).items)).toContain('c.mov');
  });

  it('counts clips of a bin between their marks, single clips whole, and tells clips that lie in bins only', () => {
    const clips = base.clips.map((clip) => ({
      ...clip,
      binPath: clip.id === 'a.mov' ? 'Selects/Day 1' : '',
      marks: clip.id === 'a.mov' ? { inFrame: 900_100, outFrame: 900_150, rate: PAL } : null,
    }));
    const chosen = choice({ timelineIds: [], bins: ['Selects'], clipIds: ['b.mov'] });
    const report = reportUsage({ ...base, clips, timelines: [] }, chosen);
    expect(report.items.map((entry) => [entry.name, entry.used])).toEqual([
      ['a.mov', [{ start: 100, end: 150 }]],
      ['b.mov', [{ start: 0, end: 1000 }]],
    ]);
    expect(reportItem({ ...base, clips, timelines: [] }, chosen, 'A\na.mov')!.uses[0]).toMatchObject({ timelineId: null, name: 'Selects/Day 1' });
    expect(names(report.binOnly)).toEqual(['a.mov', 'b.mov', 'c.mov']);
  });

  it('one mark alone reaches to the begin or the end of the media', () => {
    const used = (marks: { inFrame: number | null; outFrame: number | null }) => {
      const clips = base.clips.map((clip) => ({ ...clip, marks: { ...marks, rate: PAL } }));
      return reportUsage({ ...base, clips, timelines: [] }, choice({ timelineIds: [], clipIds: ['a.mov'] })).items[0]!.used;
    };
    expect(used({ inFrame: 900_100, outFrame: null })).toEqual([{ start: 100, end: 1000 }]);
    expect(used({ inFrame: null, outFrame: 900_150 })).toEqual([{ start: 0, end: 150 }]);
  });

  it('keeps picture and sound of one item apart', () => {
    const sound = trackDocument('A1', 'Audio', [cut('a.mov', 40, 10)]);
    const document = timeline('t', [cut('a.mov', 0, 10)]);
    (document.tracks as { children: unknown[] }).children.push(sound);
    const [a] = reportUsage(snapshot({ timelines: [document], items: [item('a.mov')] }), choice({ timelineIds: ['t'] })).items;
    expect([a!.picture, a!.sound]).toEqual([[{ start: 0, end: 10 }], [{ start: 40, end: 50 }]]);
  });
});

describe('files of one recording', () => {
  const own = (path: string, facts: object) => item(path, facts, { fingerprint: path });
  const picture = own('card/p.mxf', { materialId: 'umid 1' });
  const sound = { ...SOUND, materialId: 'umid 1' };

  it('share a material identifier; copies in other folders of the shelf do not count twice', () => {
    const items = [
      picture,
      own('card/s1.mxf', sound),
      own('card/s2.mxf', sound),
      own('backup/s1.mxf', sound),
      own('card/x.mxf', { ...sound, materialId: 'umid 2' }),
    ];
    expect(recordingOf(items[1]!, items).map((entry) => entry.place.path)).toEqual(['card/p.mxf', 'card/s1.mxf', 'card/s2.mxf']);
  });

  it('share reel and start within a frame; without a reel, or further apart, they do not', () => {
    const start = 900_000 * 1920;
    const near = own('a.wav', { ...SOUND, reel: 'a001', startFrame: start + 1900 });
    const items = [
      item('p.mov', { audio: [] }),
      near,
      own('b.wav', { ...SOUND, reel: 'A001', startFrame: start + 4000 }),
      own('c.wav', { ...SOUND, startFrame: start }),
    ];
    expect(recordingOf(items[0]!, items).map((entry) => entry.place.path)).toEqual(['p.mov', 'a.wav']);
    const withSound = item('q.mov', { audio: [{ codec: 'pcm', channels: 2, sampleRate: 48_000, bitDepth: 24 }] });
    expect(recordingOf(withSound, [withSound, near])).toEqual([withSound]);
  });
});
