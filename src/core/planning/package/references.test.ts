/** Which file, which part and which frame a written reference names. */
import { describe, expect, it } from 'vitest';
import { cut, item, PAL, plain, snapshot, SOUND, timeline } from '../../../../tests/helpers/snapshots';
import { readOtio } from '../../interchange/otio/otio-reader';
import type { OtioObject } from '../../interchange/otio/otio-types';
import { clipDocument, externalReference, rationalTime, sequenceReference, timelineDocument, timeRange, timeWarp, trackDocument } from '../../interchange/otio/otio-writer'; // prettier-ignore
import type { Item } from '../../media/item';
import { expectedFrom, type MediaLink } from '../../project/clip';
import { activeReference, clipEvents } from '../../project/timeline';
import { itemRange, collectUses } from '../../project/usage';
import { rate } from '../../time/rate';
import { planExport } from '../export/export';
import type { ExportFormat } from '../export/settings';
import type { FramesStep, Step, WriteStep } from '../plan/step';
import type { Snapshot } from '../plan/snapshot';
import { planPull } from '../pull/pull';
import type { PullSettings } from '../pull/settings';

const SETTINGS: PullSettings = {
  timelineIds: ['t'],
  media: 'parts',
  headFrames: 0,
  tailFrames: 0,
  joinGapFrames: 0,
  countDisabled: false,
  destination: { shelfId: 'B', path: '' },
  folderName: 'pulled',
};
const textOf = (steps: readonly Step[]) => {
  const { content } = steps.find((step) => step.action === 'write') as WriteStep;
  if (content.type === 'zip') return (content.entries[0] as { text: string }).text;
  if (content.type === 'made') throw new Error('no text of its own');
  return plain(content.text);
};
const pulled = (from: Snapshot) => readOtio(textOf(planPull(from, SETTINGS).steps), PAL).timelines[0]!.timeline;
const urls = (from: Snapshot) => [...clipEvents(pulled(from).tracks)].map((event) => activeReference(event)!.url);

/** Both files are one clip's source, picture first, as where a recorder's sound was synchronised. */
function withSound(base: Snapshot, picture: Item, sound: Item): Snapshot {
  const link = (one: Item): MediaLink => ({ place: one.place, url: one.place.path, expected: expectedFrom(one, one.place.path) });
  return { ...base, items: [picture, sound], clips: base.clips.map((clip) => ({ ...clip, renditions: [{ id: 'r', kind: 'source' as const, links: [link(picture), link(sound)] }] })) }; // prettier-ignore
}
const both = (children: OtioObject[], sound: OtioObject[]): Snapshot => {
  const document = timelineDocument('t', rationalTime(0, PAL), [trackDocument('V1', 'Video', children), trackDocument('A1', 'Audio', sound)]);
  return withSound(snapshot({ timelines: [document], items: [item('a.mov')] }), item('a.mov'), item('a.wav', SOUND));
};

describe('what is switched off', () => {
  it('is linked to the part nearest to what it shows', () => {
    const off = (from: number) => ({ ...cut('a.mov', from, 10), enabled: false });
    const from = snapshot({ timelines: [timeline('t', [cut('a.mov', 100, 50), cut('a.mov', 700, 50), off(740), off(600), off(200)])], items: [item('a.mov')] }); // prettier-ignore
    const part = (number: number) => `../media/picture/a_part${number}.mov`;
    expect(urls(from)).toEqual([part(1), part(2), part(2), part(2), part(1)]);
  });

  it('is linked to sound where its track is one', () => {
    const off = { ...cut('a.mov', 20, 10), enabled: false };
    expect(urls(both([cut('a.mov', 0, 50)], [cut('a.mov', 0, 50), off]))).toEqual([
      '../media/picture/a.mov',
      '../media/sound/a.wav',
      '../media/sound/a.wav',
    ]);
  });
});

it('a sound event names the sound in every format', () => {
  const from = both([cut('a.mov', 0, 50)], [cut('a.mov', 0, 50)]);
  const named = (format: ExportFormat) => {
    const settings = { timelineIds: ['t'], format, destination: { shelfId: 'B', path: '' }, folderName: '' };
    return [...textOf(planExport(from, settings, { taken: [], addresses: new Map() }).steps).matchAll(/\ba\.(mov|wav)"?[\r\n,]/g)].map(([, ending]) => ending); // prettier-ignore
  };
  for (const format of ['otio', 'otioz', 'edl', 'csv'] as const) expect([...new Set(named(format))], format).toEqual(['mov', 'wav']);
});

describe('a stated start between two frames of the item', () => {
  it('is written so that the same frames are read', () => {
    // 24 a second in the timeline, 25 in the file; the first frame is counted from 1001.
    const film = rate(24);
    const shot = (from: number, length: number) => clipDocument('a.mov', timeRange(1001 + from, length, film), externalReference('a.mov', 'a.mov', timeRange(1001, 900, film))); // prettier-ignore
    const document = timelineDocument('t', rationalTime(0, film), [trackDocument('V1', 'Video', [shot(7, 31), shot(400, 33)])]);
    const from = snapshot({ timelines: [document], items: [item('a.mov')] });
    const facts = { rate: PAL, startFrame: 900_000 };
    const before = collectUses(from.timelines[0]!.model, { countDisabled: false });
    const after = collectUses(pulled(from), { countDisabled: false });
    const parts = planPull(from, SETTINGS).steps.flatMap((step) => (step.action === 'trim' ? [step.range] : []));
    before.forEach((use, index) => {
      const whole = itemRange(use, activeReference(use.event)!.availableStart, facts);
      const inPart = itemRange(after[index]!, activeReference(after[index]!.event)!.availableStart, facts);
      expect({ start: inPart.start + parts[index]!.start, end: inPart.end + parts[index]!.start }).toEqual(whole);
    });
    // Where no whole frame of either can say it, a rate that both divide does.
    expect(activeReference(after[0]!.event)!.availableStart!.rate).toEqual(rate(600));
  });
});

describe('a sequence of every second frame', () => {
  const sequence = item('s/f.[0100-0140].dpx', {
    kind: 'sequence',
    durationFrames: 41,
    startFrame: null,
    sequence: { prefix: 'f.', suffix: '.dpx', padding: 4, firstNumber: 100, lastNumber: 140, missingRuns: Array.from({ length: 20 }, (_, index) => [101 + 2 * index, 101 + 2 * index] as const) }, // prettier-ignore
  });
  const reference = (start: number) => ({
    ...sequenceReference(
      { folderUrl: 's', prefix: 'f.', suffix: '.dpx', padding: 4, startNumber: start, rate: PAL },
      'f',
      timeRange(0, 141 - start, PAL),
    ),
    frame_step: 2,
  });
  const from = (start: number, first: number, length: number) => {
    const base = snapshot({ timelines: [timeline('t', [clipDocument('f', timeRange(first, length, PAL), reference(start))])], items: [] });
    const link: MediaLink = { place: sequence.place, url: '', expected: expectedFrom(sequence, 'f') };
    return {
      ...base,
      items: [sequence],
      clips: base.clips.map((clip) => ({ ...clip, renditions: [{ id: 'r', kind: 'source' as const, links: [link] }] })),
    };
  };
  const written = (snap: Snapshot) => (JSON.parse(textOf(planPull(snap, SETTINGS).steps)) as { tracks: { children: { children: { media_references: { DEFAULT_MEDIA: OtioObject } }[] }[] } }).tracks.children[0]!.children[0]!.media_references.DEFAULT_MEDIA; // prettier-ignore

  it('is taken from the frame that is shown, and its reference keeps the step', () => {
    // Frame 11 of the count is number 111: 110 stands until 112 comes.
    const snap = from(100, 11, 6);
    expect((planPull(snap, SETTINGS).steps[0] as FramesStep).names.slice(0, 4)).toEqual(['f.0110.dpx', 'f.0112.dpx', 'f.0114.dpx', 'f.0116.dpx']);
    expect(written(snap)).toMatchObject({ start_frame: 110, frame_step: 2, available_range: { start_time: { value: 10 } } });
  });

  it('is exported with step and start as they were', () => {
    const settings = { timelineIds: ['t'], format: 'otio' as const, destination: { shelfId: 'B', path: '' }, folderName: '' };
    const text = textOf(planExport(from(104, 0, 6), settings, { taken: [], addresses: new Map() }).steps);
    expect(text).toMatch(/"start_frame": 104,\s+"frame_step": 2/);
  });
});

it('a clip list gives what is shown: speeds, windows and speeds around it', () => {
  const window = (child: OtioObject, speed: number): OtioObject => ({ OTIO_SCHEMA: 'Stack.1', name: 'w', source_range: timeRange(5, 10, PAL), effects: speed === 1 ? [] : [timeWarp(speed)], children: [trackDocument('V1', 'Video', [child])] }); // prettier-ignore
  const fast = { ...cut('a.mov', 0, 50), effects: [timeWarp(2)] };
  const from = snapshot({ timelines: [timeline('t', [fast, window(cut('a.mov', 100, 50), 1), window(cut('a.mov', 100, 50), 2)])], items: [item('a.mov')] }); // prettier-ignore
  const settings = { timelineIds: ['t'], format: 'csv' as const, destination: { shelfId: 'B', path: '' }, folderName: '' };
  const rows = textOf(planExport(from, settings, { taken: [], addresses: new Map() }).steps).trim().split('\r\n').slice(1); // prettier-ignore
  expect(rows.map((row) => row.split(',').slice(4, 6))).toEqual([
    ['10:00:00:00', '10:00:04:00'],
    ['10:00:04:05', '10:00:04:15'],
    ['10:00:04:05', '10:00:05:00'],
  ]);
});
