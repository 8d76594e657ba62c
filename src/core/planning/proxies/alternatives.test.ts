import { describe, expect, it } from 'vitest';
import type { Item, MediaFacts } from '../../media/item';
import { bytesShare, optionsAt, presetOf } from '../../rendition/presets';
import { cut, item, PAL, snapshot, timeline, VIDEO } from '../../../../tests/helpers/snapshots';
import { rate } from '../../time/rate';
import { alternativesOf } from './alternatives';
import { UNKNOWN_MACHINE, type Machine, type SampleRate } from './pace';
import { planProxies } from './proxies';
import type { ProxySettings } from './settings';

const settings = (own: Partial<ProxySettings> = {}) =>
  ({ presetId: 'pocket', size: { by: 'lines', lines: 540 }, sound: 'all', quality: 0, ...own }) as ProxySettings;
const picture = (bitDepth: number, height = 1080): MediaFacts['video'] => ({ ...VIDEO.video!, bitDepth, height, width: (height * 16) / 9 });
const items = (...facts: Partial<MediaFacts>[]): Item[] => facts.map((own, index) => item(`${index}.mov`, own));
const rateOf = (presetId: SampleRate['presetId'], bytesPerPixel: number, secondsPerPixel: number): SampleRate => ({ fingerprint: '2:print of 0.mov:14/14', presetId, width: 960, height: 540, quality: 0, bytesPerPixel, secondsPerPixel }); // prettier-ignore
const machine = (own: Partial<Machine>): Machine => ({ ...UNKNOWN_MACHINE, ...own });

describe('what other presets and sizes would take', () => {
  it('goes by a sample of each preset that its sources really get, by the pixels that are written and read', () => {
    const both = items({ video: picture(8) }, { video: picture(10), durationFrames: 500 });
    const found = (own: Partial<Machine>) => alternativesOf(both, settings(), PAL, machine(own))!.all.find(({ presetId, size }) => presetId === 'pocket' && size.by === 'lines' && size.lines === 540)!; // prettier-ignore
    const samples = [rateOf('pocket', 0.1, 1e-9), rateOf('thread', 0.05, 3e-9)];
    const [written, read] = [960 * 540, 1920 * 1080];
    expect(found({ samples })).toEqual({
      presetId: 'pocket',
      size: { by: 'lines', lines: 540 },
      gets: ['pocket', 'thread'],
      isMeasured: true,
      bytes: 1000 * written * 0.1 + 500 * written * 0.05,
      seconds: 1000 * (written + read) * 1e-9 + 500 * (written + read) * 3e-9,
    });
    expect(found({ samples: samples.slice(0, 1) })).toMatchObject({ isMeasured: false, seconds: null });
    // Of another source, size or quality nothing is taken over; what was really encoded here tells the time.
    expect(found({ samples: samples.map((one) => ({ ...one, fingerprint: 'another' })) }).isMeasured).toBe(false);
    expect(found({ samples, paces: new Map([['pocket', 2e-9]]) }).seconds).toBe(1000 * (written + read) * 2e-9 + 500 * (written + read) * 3e-9);
  });

  it('the sample is the largest; sizes are the asked one and the next smaller, said alike', () => {
    const three = (size: ProxySettings['size']) => [...new Set(alternativesOf(items({ video: picture(8, 720) }, { video: picture(8) }), settings({ size }), PAL, UNKNOWN_MACHINE)!.all.map((one) => JSON.stringify(one.size)))].map((text) => JSON.parse(text) as object); // prettier-ignore
    expect(alternativesOf(items({ video: picture(8, 720) }, { video: picture(8) }), settings(), PAL, UNKNOWN_MACHINE)!.sample.name).toBe('1.mov');
    expect(three({ by: 'full' })).toEqual([{ by: 'full' }, { by: 'lines', lines: 720 }, { by: 'lines', lines: 540 }]);
    expect(three({ by: 'share', share: 3 })).toEqual([{ by: 'share', share: 3 }, { by: 'share', share: 4 }, { by: 'share', share: 6 }]); // prettier-ignore
    expect(alternativesOf([], settings(), PAL, UNKNOWN_MACHINE)).toBeNull();
    // A source upright on its side is as wide as it is high.
    expect(alternativesOf(items({ video: { ...picture(8)!, rotation: 90 } }), settings(), PAL, UNKNOWN_MACHINE)!.sample).toMatchObject({
      width: 1080,
      height: 1920,
    });
  });

  it('the same file of two clips is encoded once', () => {
    const [one] = items({ video: picture(8) });
    const bytes = (...of: Item[]) => alternativesOf(of, settings(), PAL, UNKNOWN_MACHINE)!.all[0]!.bytes;
    expect(bytes(one!, one!)).toBe(bytes(one!));
  });

  it('the sheet and the table say the same of what is asked for, before a sample and after it', () => {
    const sources = items({ video: picture(8) }, { video: picture(8), durationFrames: 77, rate: rate(30_000, 1001) }, { video: picture(10, 720) });
    const house = snapshot({ timelines: [timeline('t', sources.map(({ place }) => cut(place.path, 0, 5)))], items: sources }); // prettier-ignore
    const asked = { scope: { of: 'project' }, presetId: 'pocket', size: { by: 'lines', lines: 540 }, quality: 0, sound: 'all', destination: { shelfId: 'B', path: '' }, folderName: 'Proxies', layout: 'flat', burnIn: null, onlyLacking: true, alphaIsOwn: true, leave: [], order: null, asHome: false } as unknown as ProxySettings; // prettier-ignore
    for (const samples of [[], [rateOf('pocket', 0.1, 1e-9), rateOf('thread', 0.07, 2e-9)]]) {
      const { lines, seconds, detail } = planProxies(house, asked, [], machine({ samples }));
      const own = detail.alternatives!.all.find(({ presetId, size }) => presetId === 'pocket' && JSON.stringify(size) === JSON.stringify(asked.size))!; // prettier-ignore
      expect(lines.find(({ label }) => label === 'Made')).toMatchObject({ files: 3, bytes: own.bytes });
      expect(seconds ?? null).toBe(own.seconds);
      expect(own.isMeasured).toBe(samples.length > 0);
    }
  });
});

describe('quality against the preset', () => {
  it('is said in the words of its encoder, and never goes beyond what there is', () => {
    expect(optionsAt(presetOf('pocket'), 2)).toContain('17');
    expect(optionsAt(presetOf('pocket'), -2)).toContain('29');
    expect(optionsAt(presetOf('courier'), 1).slice(0, 2)).toEqual(['-profile:v', '1']);
    expect(optionsAt(presetOf('courier'), -2)).toEqual(presetOf('courier').options);
    expect(optionsAt(presetOf('bench'), 2)).toEqual(presetOf('bench').options);
    expect(optionsAt(presetOf('veil'), 2)).toEqual(presetOf('veil').options);
    expect([bytesShare(presetOf('pocket'), 2), bytesShare(presetOf('courier'), -1)]).toEqual([2, 1]);
    expect(bytesShare(presetOf('courier'), 1)).toBeGreaterThan(2);
  });
});
