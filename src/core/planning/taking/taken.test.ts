import { describe, expect, it } from 'vitest';
import { cut, item, shelf, snapshot, SOUND, timeline } from '../../../../tests/helpers/snapshots';
import type { Item } from '../../media/item';
import { rate } from '../../time/rate';
import { mediaFindings } from './taken';
import type { UsedMediaSettings } from './settings';
import { findUsedMedia } from './used-media';

const SETTINGS: UsedMediaSettings = { timelineIds: ['t'], media: 'parts', headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false };

interface Case {
  readonly items?: readonly Item[];
  readonly more?: Parameters<typeof snapshot>[0]['timelines'];
  readonly settings?: Partial<UsedMediaSettings>;
  readonly of?: readonly [kept: number, all: number];
  readonly unplugged?: boolean;
}

function told(
  children: Parameters<typeof timeline>[1],
  { items = [item('a.mov')], more = [], settings = {}, of = [0, 0], unplugged = false }: Case = {},
) {
  const shelves = [shelf('A', { attached: !unplugged }), shelf('B')];
  const whole = snapshot({ timelines: [timeline('t', children), ...more], items, shelves });
  const wanted = { ...SETTINGS, ...settings };
  return mediaFindings(whole, wanted, findUsedMedia(whole, wanted), of[1], of[0]).map(({ code, severity, message }) => [code, severity, message]);
}

describe('what is told of used media', () => {
  it('is nothing where all of it stands there whole', () => {
    expect(told([cut('a.mov', 100, 50)])).toEqual([]);
  });

  it('names what is offline by its reason, with the events that keep their link', () => {
    const gone = [cut('b.mov', 0, 10), cut('b.mov', 20, 10), cut('c.mov', 0, 10), cut('a.mov', 0, 10)];
    expect(told(gone)).toEqual([['clip-offline', 'warns', 'b.mov, c.mov are missing; 3 events keep the old link.']]);
    expect(told([cut('a.mov', 0, 10)], { unplugged: true })).toEqual([
      ['clip-offline', 'warns', 'a.mov is unplugged; the event keeps the old link.'],
    ]);
  });

  it('counts every frame once that an event reads and the file does not have: samples where it is sound', () => {
    // Frames 990 to 1009 and 1005 to 1014 of 1000: ten and five more, of which five are the same.
    expect(told([cut('a.mov', 990, 20), cut('a.mov', 1005, 10)])).toEqual([
      ['beyond-media', 'warns', 'The timelines use 15 frames that a.mov does not have.'],
    ]);
    const sound = item('s.wav', SOUND);
    const beyond = cut('s.wav', SOUND.durationFrames! - 1, 3, SOUND.startFrame!, rate(48_000), SOUND.durationFrames!);
    expect(told([beyond], { items: [sound] })).toEqual([['beyond-media', 'warns', 'The timelines use 2 samples that s.wav does not have.']]);
  });

  it('says a handle that the media cuts short, and that trimming gains next to nothing from nine tenths on', () => {
    const handles = { settings: { headFrames: 25, tailFrames: 25 } };
    expect(told([cut('a.mov', 0, 50)], handles)).toEqual([
      ['short-handles', 'notes', '1 file ends before the full handle; the handle is as long as the media allows.'],
    ]);
    expect(told([cut('a.mov', 100, 50)], { ...handles, of: [901, 1000] }).map(([code]) => code)).toEqual(['small-gain']);
    expect(told([cut('a.mov', 100, 50)], { ...handles, of: [900, 1000] })).toEqual([]);
    // Of whole files nobody expected to gain anything.
    expect(told([cut('a.mov', 100, 50)], { settings: { media: 'whole' }, of: [1000, 1000] })).toEqual([]);
  });

  it('names timelines that use other parts of these files, and no others', () => {
    const more = [timeline('inside', [cut('a.mov', 110, 10)]), timeline('other cut', [cut('a.mov', 700, 10)])];
    expect(told([cut('a.mov', 100, 50)], { more })).toEqual([['other-timelines', 'warns', 'other cut uses other parts of these files.']]);
  });
});
