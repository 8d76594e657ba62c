import { describe, expect, it } from 'vitest';
import { expectedFrom, type Clip, type Rendition } from '../../project/clip';
import type { Item } from '../../media/item';
import type { ReadOrder } from '../../rendition/read-order';
import { rate } from '../../time/rate';
import type { Snapshot } from '../plan/snapshot';
import { cut, item, snapshot, SOUND, timeline, VIDEO } from '../../../../tests/helpers/snapshots';
import { finishCsv, finishHtml } from './finish-page';
import { planFinish } from './finish';

const rendition = (kind: Rendition['kind'], own: Item, made?: Rendition['made']): Rendition => ({
  id: `${kind} ${own.id}`,
  kind,
  links: [{ place: own.place, url: '', expected: expectedFrom(own, own.place.path) }],
  ...(made ? { made } : {}),
});

/** One event of `a.mov`, whose clip has these renditions beside its source. */
function house(source: Item | null, more: readonly Rendition[], items: readonly Item[], event = cut('a.mov', 100, 50), order?: ReadOrder): Snapshot {
  const made = snapshot({ timelines: [timeline('t', [event])], items: [...(source ? [source] : []), ...items] });
  const clips = made.clips.map((clip): Clip => ({ ...clip, renditions: [...clip.renditions, ...more] }));
  return { ...made, clips, project: { ...made.project, ...(order ? { readOrder: order } : {}) } };
}

const problems = (from: Snapshot) => planFinish(from, { timelineId: 't', countDisabled: false }).detail.rows.flatMap((row) => row.problems.map(({ is }) => is)); // prettier-ignore
const light = (own: Partial<Item['facts']> = {}) => item('a_proxy.mov', { video: { ...VIDEO.video!, bitDepth: 8, width: 640, height: 360 }, ...own });
const MADE = { presetId: 'pocket' as const, burnIn: false, sourcePrint: '2:print of a.mov:14/14', at: '' };

describe('finish check', () => {
  it('an event is ready where its source is read with all frames', () => {
    const plan = planFinish(house(item('a.mov'), [], []), { timelineId: 't', countDisabled: false });
    expect([plan.headline.value, plan.headline.of, plan.detail.rows[0]!.record, plan.steps]).toEqual([1, 1, '00:00:00:00', []]);
  });

  it('what the editing system makes is ready; what names no media, or a kind that nobody here knows, is not', () => {
    const instead = (schema: string) => ({ ...cut('', 100, 50), media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: schema, generator_kind: 'SMPTEBars' } } }); // prettier-ignore
    const house = snapshot({
      timelines: [timeline('t', ['GeneratorReference.1', 'MissingReference.1', 'OtherReference.1'].map(instead))],
      items: [],
    });
    const { headline, detail } = planFinish(house, { timelineId: 't', countDisabled: false });
    expect([headline.value, headline.of, detail.rows.map(({ name, problems: own }) => [name, own.map(({ words }) => words).join()])]).toEqual([
      1,
      3,
      [
        ['SMPTEBars', ''],
        ['Unnamed', 'it names no media'],
        ['Unnamed', 'its kind of media is not known here'],
      ],
    ]);
  });

  it('a proxy that is read is said, one that only stands there is not', () => {
    const copy = light();
    const proxy = rendition('proxy', copy, MADE);
    expect(problems(house(item('a.mov'), [proxy], [copy]))).toEqual([]);
    expect(problems(house(null, [proxy], [copy]))).toEqual(['proxy', 'eight-bit']);
    // The order of the project decides, not what is best.
    const first: ReadOrder = { kinds: ['proxy', 'source', 'mezzanine', 'finished'], stop: 4 };
    expect(problems(house(item('a.mov'), [proxy], [copy], undefined, first))).toEqual(['proxy', 'eight-bit']);
    const burned = rendition('proxy', copy, { ...MADE, burnIn: true });
    expect(problems(house(null, [burned], [copy]))).toContain('burn-in');
  });

  it('offline is what nothing before the line stands for', () => {
    const copy = light();
    expect(problems(house(null, [], []))).toEqual(['offline']);
    expect(problems(house(null, [rendition('proxy', copy, MADE)], [copy], undefined, { kinds: ['source', 'finished', 'mezzanine', 'proxy'], stop: 3 }))).toEqual(['offline']); // prettier-ignore
  });

  it('finished pictures that fit are ready, also of 8 bits where the source had no more; others are told apart', () => {
    const graded = item('a_graded.mov', { video: { ...VIDEO.video!, bitDepth: 10 } }, { modifiedMs: 5 });
    expect(problems(house(item('a.mov'), [rendition('finished', graded)], [graded]))).toEqual([]);
    const older = item('a_graded.mov', {}, { modifiedMs: 0 });
    expect(problems(house(item('a.mov'), [rendition('finished', older)], [older]))).toEqual(['older']);
    const eight = item('a_graded.mov', { video: { ...VIDEO.video!, bitDepth: 8 } }, { modifiedMs: 5 });
    expect(problems(house(item('a.mov'), [rendition('finished', eight)], [eight]))).toEqual(['eight-bit']);
    expect(problems(house(item('a.mov', { video: { ...VIDEO.video!, bitDepth: 8 } }), [rendition('finished', eight)], [eight]))).toEqual([]);
    // An exchange made it the source of a clip of its own: what it took the place of is remembered.
    const exchanged = (depth: number): Snapshot => {
      const plain = house(item('a.mov', { video: { ...VIDEO.video!, bitDepth: 8 } }), [], []);
      const made = { presetId: null, burnIn: false, sourcePrint: null, at: '', insteadOfDepth: depth };
      return { ...plain, clips: plain.clips.map((clip): Clip => ({ ...clip, renditions: clip.renditions.map((own) => ({ ...own, made })) })) };
    };
    expect([problems(exchanged(10)), problems(exchanged(8))]).toEqual([['eight-bit'], []]);
    const fast = item('a_graded.mov', { rate: rate(50), durationFrames: 2000, startFrame: 1_800_000 }, { modifiedMs: 5 });
    expect(problems(house(item('a.mov'), [rendition('finished', fast)], [fast]))).toEqual(['rate']);
  });

  it('lacking frames are counted: before the first and after the last', () => {
    const short = (from: number, length: number) => item('a_graded.mov', { startFrame: 900_000 + from, durationFrames: length }, { modifiedMs: 5 });
    const words = (graded: Item) => planFinish(house(item('a.mov'), [rendition('finished', graded)], [graded]), { timelineId: 't', countDisabled: false }).detail.rows[0]!.problems.map((one) => one.words); // prettier-ignore
    // The event reads source frames 100 up to 150.
    expect(words(short(100, 50))).toEqual([]);
    expect(words(short(100, 49))).toEqual(['1 frame beyond a_graded.mov']);
    expect(words(short(110, 500))).toEqual(['10 frames beyond a_graded.mov']);
    expect(words(short(120, 10))).toEqual(['40 frames beyond a_graded.mov']);
  });

  it('sound is not called a proxy, and pictures without sound leave it to the source', () => {
    const bell = item('a.mov', SOUND);
    expect(problems(house(bell, [], []))).toEqual([]);
    expect(problems(house(bell, [], [], undefined, { kinds: ['proxy', 'source', 'mezzanine', 'finished'], stop: 1 }))).toEqual([]);
  });

  it('is kept as a page and a table in which no name is a mark or a formula', () => {
    const from = snapshot({ timelines: [timeline('<b>t', [cut('=cmd|a.mov', 0, 10)])], items: [] });
    const plan = planFinish(from, { timelineId: '<b>t', countDisabled: false });
    const page = finishHtml(plan, () => 'SHELF & <i>');
    expect(page).not.toMatch(/<b>t|<i>/);
    expect(page).toContain('0 of 1 events are ready');
    expect(finishCsv(plan, () => 'A').split('\r\n')[1]).toContain("'=cmd|a.mov");
  });
});
