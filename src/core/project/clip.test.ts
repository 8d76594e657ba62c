import { describe, expect, it } from 'vitest';
import { item, PAL, SOUND, VIDEO } from '../../../tests/helpers/snapshots';
import type { Item, Place } from '../media/item';
import { rate } from '../time/rate';
import { clipState, expectedFrom, linksRead, soundStart, type Clip, type Stock } from './clip';

const picture = item('p.mov', { audio: [] });
const lapel = item('lapel.wav', SOUND);
const boom = item('boom.wav', SOUND);
const clipOf = (items: readonly Item[], own: Partial<Clip> = {}): Clip => ({
  id: 'c',
  name: 'talk',
  binPath: '',
  mediaStart: null,
  setAside: false,
  note: '',
  colour: '',
  marks: null,
  conform: 'by-time',
  madeBy: 'hand',
  mediaKey: 'k',
  renditions: [
    { id: 'r', kind: 'source', links: items.map((entry) => ({ place: entry.place, url: '', expected: expectedFrom(entry, entry.place.path) })) },
  ],
  ...own,
});
const stockOf = (items: readonly Item[], attached = true): Stock => ({
  isAttached: () => attached,
  itemAt: (place: Place) => items.find((entry) => entry.place.path === place.path) ?? null,
});
const all = [picture, lapel, boom];
const names = (clip: Clip, sound: boolean, named: number | null, stock = stockOf(all)) =>
  linksRead(clip, sound, named, stock).map((link) => link.place!.path);

describe('a clip of several items', () => {
  const clip = clipOf(all);

  it('gives picture to picture tracks and sound to sound tracks; the item an event names wins', () => {
    expect(names(clip, false, null)).toEqual(['p.mov']);
    expect(names(clip, true, null)).toEqual(['lapel.wav', 'boom.wav']);
    expect(names(clip, true, 2)).toEqual(['boom.wav']);
    // Named, but of the other kind: a sound event that names the picture reads the sound.
    expect(names(clip, true, 0)).toEqual(['lapel.wav', 'boom.wav']);
  });

  it('knows the kinds of items that are away from what it remembers of them', () => {
    expect(names(clip, true, null, stockOf([]))).toEqual(['lapel.wav', 'boom.wav']);
  });

  it('reads its one item, whatever the track, and its picture where there is no sound', () => {
    expect(names(clipOf([picture]), true, null)).toEqual(['p.mov']);
    expect(names(clipOf([picture, item('q.mov', { audio: [] })]), true, null)).toEqual(['p.mov']);
    const withSound = item('s.mov');
    expect(names(clipOf([{ ...withSound, facts: { ...VIDEO, audio: SOUND.audio } }, lapel]), true, null, stockOf([{ ...withSound, facts: { ...VIDEO, audio: SOUND.audio } }, lapel]))).toEqual(['s.mov', 'lapel.wav']); // prettier-ignore
  });

  it('is as good as its worst item', () => {
    expect(clipState(clip, stockOf(all))).toBe('present');
    expect(clipState(clip, stockOf([picture, lapel]))).toBe('missing');
    expect(clipState(clip, stockOf(all, false))).toBe('unplugged');
    expect(clipState({ ...clip, setAside: true }, stockOf([picture]))).toBe('set-aside');
    expect(clipState(clip, stockOf([picture, lapel, { ...boom, fingerprint: '2:other:14/14' }]))).toBe('changed');
  });

  it('counts sound from its own timecode where that lies within a frame of the picture’s', () => {
    const start = { value: 900_000, rate: PAL };
    const own = 900_000 * 1920 + 480;
    expect(soundStart(clip, start, { ...SOUND, startFrame: own })).toEqual({ value: own, rate: rate(48_000) });
    expect(soundStart(clip, start, { ...SOUND, startFrame: own + 100_000 })).toEqual(start);
    expect(soundStart(clip, start, VIDEO)).toEqual(start);
    expect(soundStart(clipOf([lapel]), start, { ...SOUND, startFrame: own })).toEqual(start);
  });
});
