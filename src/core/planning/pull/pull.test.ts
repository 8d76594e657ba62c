import { describe, expect, it } from 'vitest';
import { readOtio } from '../../interchange/otio/otio-reader';
import type { OtioObject } from '../../interchange/otio/otio-types';
import { activeReference, clipEvents } from '../../project/timeline';
import { rate } from '../../time/rate';
import { planCrate } from '../crate/crate';
import type { Step } from '../plan/step';
import { planPull } from './pull';
import type { PullSettings } from './settings';
import { cut, item, PAL, plain, shelf, snapshot, SOUND, timeline } from '../../../../tests/helpers/snapshots';

const SETTINGS: PullSettings = {
  timelineIds: ['t'],
  media: 'parts',
  headFrames: 25,
  tailFrames: 25,
  joinGapFrames: 0,
  countDisabled: false,
  destination: { shelfId: 'B', path: 'jobs' },
  folderName: 'pulled',
};
const pull = (children: OtioObject[], items = [item('a.mov')], settings: Partial<PullSettings> = {}) =>
  planPull(snapshot({ timelines: [timeline('t', children)], items }), { ...SETTINGS, ...settings });
const paths = (steps: readonly Step[]) => steps.map((step) => [step.action, step.to?.path]);
const written = (steps: readonly Step[]) =>
  steps.flatMap((step) => (step.action === 'write' && step.content.type === 'timeline' ? [plain(step.content.text)] : []))[0]!;

describe('planPull', () => {
  it('takes each used part with its handles, clamped to the media', () => {
    const plan = pull([cut('a.mov', 10, 50), cut('a.mov', 500, 100), cut('a.mov', 980, 20)]);
    expect(plan.detail.rows[0]).toMatchObject({
      method: 'trim',
      parts: 3,
      kept: [
        { start: 0, end: 85 },
        { start: 475, end: 625 },
        { start: 955, end: 1000 },
      ],
      shortHandles: true,
    });
    expect(paths(plan.steps)).toEqual([
      ['trim', 'jobs/pulled/media/picture/a_part1.mov'],
      ['trim', 'jobs/pulled/media/picture/a_part2.mov'],
      ['trim', 'jobs/pulled/media/picture/a_part3.mov'],
      ['write', 'jobs/pulled/timelines/t · pulled.otio'],
      ['link', undefined],
    ]);
    expect(plan.findings.map((finding) => finding.code)).toContain('short-handles');
    expect(plan.headline.of).toBe(1_000_000);
  });

  it('a two-minute take used three times is one span or three files, as the gap limit says', () => {
    // Common practice; arithmetic.
    const take = item('take.mov', { durationFrames: 3000 });
    const uses = [cut('take.mov', 300, 100), cut('take.mov', 900, 100), cut('take.mov', 1500, 100)];
    expect(pull(uses, [take]).detail.rows[0]!.parts).toBe(3);
    expect(pull(uses, [take], { joinGapFrames: 500 }).detail.rows[0]).toMatchObject({ parts: 1, kept: [{ start: 275, end: 1625 }] });
  });

  it('points every event at the part that holds it, by a relative link, source ranges untouched', () => {
    const plan = pull([cut('a.mov', 100, 50), cut('a.mov', 500, 100)]);
    const read = readOtio(written(plan.steps), PAL).timelines[0]!;
    const events = [...clipEvents(read.timeline.tracks)];
    expect(
      events.map((event) => [
        activeReference(event)!.url,
        activeReference(event)!.availableStart!.value,
        activeReference(event)!.availableDuration!.value,
      ]),
    ).toEqual([
      ['../media/picture/a_part1.mov', 900_075, 100],
      ['../media/picture/a_part2.mov', 900_475, 150],
    ]);
    expect(events.map((event) => [event.sourceIn.value, event.sourceDuration.value])).toEqual([
      [900_100, 50],
      [900_500, 100],
    ]);
  });

  it('takes sound on the sample, whatever rate the timeline counts it at', () => {
    const bell = item('bell.wav', SOUND);
    const plan = pull([cut('bell.wav', 100, 50, 900_000)], [bell], { headFrames: 10, tailFrames: 5 });
    expect(plan.steps[0]).toMatchObject({ action: 'trim', range: { start: 90 * 1920, end: 155 * 1920 } });
    const [event] = [...clipEvents(readOtio(written(plan.steps), PAL).timelines[0]!.timeline.tracks)];
    expect(activeReference(event!)!.availableStart).toEqual({ value: 900_090, rate: PAL });
  });

  it('a file of another rate keeps whole frames around what is used', () => {
    const film = item('film.mov', { rate: rate(24), startFrame: 0, startTimecode: '00:00:00:00' });
    expect(pull([cut('film.mov', 1, 10, 0)], [film], { headFrames: 0, tailFrames: 0 }).detail.rows[0]!.used).toEqual([{ start: 0, end: 11 }]);
  });

  it('copies whole what cannot be cut, and says why', () => {
    const long = item('long.mp4', { video: { ...item('x').facts.video!, codec: 'h264', profile: 'High' } });
    const still = item('still.png', { kind: 'still', container: 'png', rate: null, durationFrames: null, startFrame: null });
    const plan = pull([cut('long.mp4', 10, 50), cut('still.png', 0, 75, 0)], [long, still]);
    expect(plan.detail.rows.map((row) => [row.method, row.why])).toEqual([
      ['whole', 'long-GOP'],
      ['whole', 'a still'],
    ]);
    expect(plan.steps.filter((step) => step.action === 'copy').map((step) => [step.expectedBytes, step.bytesExact])).toEqual([
      [1_000_000, true],
      [1_000_000, true],
    ]);
  });

  it('copies the numbered frames of a sequence and names what lacks', () => {
    const sequence = { prefix: 'pour.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1100, missingRuns: [[1053, 1053]] as const };
    const pour = item('pour.[1001-1100].dpx', { kind: 'sequence', rate: null, durationFrames: 100, startFrame: null, sequence });
    const plan = pull([cut('pour.[1001-1100].dpx', 50, 5, 0, PAL, 100)], [pour], { headFrames: 1, tailFrames: 1 });
    expect(plan.steps[0]).toMatchObject({
      action: 'frames',
      names: ['pour.1050.dpx', 'pour.1051.dpx', 'pour.1052.dpx', 'pour.1054.dpx', 'pour.1055.dpx', 'pour.1056.dpx'],
    });
    expect(plan.findings.map((finding) => finding.code)).toContain('sequence-gaps');
  });

  it('never gives two files one name, nor a name that is taken at the destination', () => {
    const items = [item('day 1/a.mov'), item('day 2/A.mov')];
    const document = timeline('t', [cut('day 1/a.mov', 0, 10), cut('day 2/A.mov', 0, 10)]);
    const plan = planPull(snapshot({ timelines: [document], items }), { ...SETTINGS, media: 'whole' }, ['media/picture/a.mov']);
    expect(
      paths(plan.steps)
        .slice(0, 2)
        .map(([, path]) => path),
    ).toEqual(['jobs/pulled/media/picture/a_2.mov', 'jobs/pulled/media/picture/A_3.mov']);
  });

  it('each timeline is written with the cut files it links, and no others', () => {
    const timelines = [timeline('t', [cut('a.mov', 100, 50)]), timeline('u', [cut('b.mov', 100, 50), cut('b.mov', 700, 9)])];
    const { steps } = planPull(snapshot({ timelines, items: [item('a.mov'), item('b.mov')] }), { ...SETTINGS, timelineIds: ['t', 'u'] });
    const parts = steps.flatMap((step) => (step.action === 'write' && step.content.type === 'timeline' ? [step.content.parts] : []));
    expect(parts.map((own) => own.map(({ url }) => url))).toEqual([
      ['../media/picture/a.mov'],
      ['../media/picture/b_part1.mov', '../media/picture/b_part2.mov'],
    ]);
  });

  it('tells of media that is offline, used beyond its end, or used elsewhere too', () => {
    const document = timeline('t', [cut('a.mov', 990, 50), cut('gone.mov', 0, 10)]);
    const other = timeline('trailer', [cut('a.mov', 100, 10)]);
    const plan = planPull(snapshot({ timelines: [document, other], items: [item('a.mov')] }), SETTINGS);
    expect(plan.findings.map((finding) => finding.code)).toEqual(expect.arrayContaining(['clip-offline', 'beyond-media', 'other-timelines']));
    expect(plan.detail.offline).toMatchObject([{ name: 'gone.mov', state: 'missing', events: 1 }]);
    expect(plan.blocked).toBeNull();
  });

  it.each([
    ['no timeline', { timelineIds: [] }, 'No timeline is chosen.'],
    ['no destination', { destination: null }, 'No destination is chosen.'],
    ['no folder name', { folderName: ' ' }, 'The new folder has no name.'],
    ['an unplugged shelf', { destination: { shelfId: 'C', path: '' } }, 'SHELF-C is not plugged in.'],
    ['a read-only shelf', { destination: { shelfId: 'D', path: '' } }, 'SHELF-D cannot be written to.'],
    ['a shelf without room', { destination: { shelfId: 'E', path: '' } }, 'SHELF-E has too little room'],
  ])('with %s it has no steps and says what to do', (what, settings, words) => {
    const shelves = [shelf('A'), shelf('B'), shelf('C', { attached: false }), shelf('D', { writable: false }), shelf('E', { freeBytes: 1000 })];
    const plan = planPull(snapshot({ timelines: [timeline('t', [cut('a.mov', 100, 50)])], items: [item('a.mov')], shelves }), {
      ...SETTINGS,
      ...settings,
    });
    expect(plan.blocked).toContain(words);
    expect(plan.steps).toEqual([]);
    // What is merely not chosen yet is asked for.
    expect(plan.findings[0]).toMatchObject({ severity: what.startsWith('no ') ? 'asks' : 'stops' });
    expect(plan.findings[0]!.hint!.length).toBeGreaterThan(5);
  });

  it('is the same plan for the same input', () => {
    const children = [cut('a.mov', 100, 50)];
    expect(JSON.stringify(pull(children))).toBe(JSON.stringify(pull(children)));
  });
});

describe('planCrate', () => {
  const crate = (exists = false) =>
    planCrate(
      snapshot({ timelines: [timeline('t', [cut('a.mov', 100, 50)])], items: [item('a.mov')] }),
      { ...SETTINGS, crateName: 'To the grade: v2', note: '' },
      { crateId: 'c', madeAt: '2026-11-24', exists },
    );

  it('lays media and timelines first, then the lists; what makes it a bag comes last, and then it is entered', () => {
    const plan = crate();
    expect(plan.steps.map((step) => [step.phase, step.to?.path.split('/').slice(2).join('/')])).toEqual([
      [0, 'data/media/picture/a.mov'],
      [1, 'data/timelines/t.otio'],
      [2, 'data/report.html'],
      [3, 'manifest-sha256.txt'],
      [3, 'bag-info.txt'],
      [4, 'tagmanifest-sha256.txt'],
      [5, 'bagit.txt'],
      [6, undefined],
      [7, undefined],
    ]);
    expect(plan.steps[0]!.to!.path).toContain('jobs/To the grade_ v2/');
  });

  it('never goes into a folder that is there already', () => expect(crate(true).blocked).toContain('already stands'));
});
