import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { additionsFrom } from './additions';
import { matchAll } from './match-all';
import { plainName } from './plain-name';
import { edlEvent, matchList, plainFile, soundFile, timedFile } from '../../../tests/helpers/matching';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../interchange/otio/otio-writer';
import type { OtioObject } from '../interchange/otio/otio-types';
import type { Item } from '../media/item';
import { rate } from '../time/rate';
import { PAL } from '../../../tests/helpers/snapshots';

const ONE = ['00:00:01:00', '00:00:02:10'] as const;
const TEN = ['10:00:01:00', '10:00:02:10'] as const;
const HOUR = ['01:00:01:00', '01:00:02:10'] as const;
const from = (name: string) => `* FROM CLIP NAME: ${name}`;
const file = (name: string) => `* SOURCE FILE: ${name}`;
const DCIM = 'DCIM/100MEDIA';

/** An OTIO timeline of one clip, 35 frames from `start` on. */
function otio(name: string, reference: OtioObject, start: number, metadata: OtioObject = {}, kind: 'Video' | 'Audio' = 'Video'): string {
  const clip = clipDocument(name, timeRange(start, 35, PAL), reference, [], metadata);
  return formatOtio(timelineDocument('cut', rationalTime(0, PAL), [trackDocument('T1', kind, [clip])]));
}
const missing = (name = '', metadata: OtioObject = {}): OtioObject => ({
  OTIO_SCHEMA: 'MissingReference.1',
  metadata,
  name,
  available_range: null,
  available_image_bounds: null,
});
const external = (url: string, available: OtioObject | null = null, metadata: OtioObject = {}) => externalReference(url, '', available, metadata);
const csv = (titles: string, ...rows: string[]) => `${titles}\n${rows.join('\n')}\n`;

/** What it is, the list, the files; the first file is the one that is meant, and must be taken. */
const TAKEN: readonly (readonly [string, string, readonly Item[]])[] = [
  [
    'name with its ending, reel the stem',
    edlEvent('CLIP0001', ...ONE, [from('CLIP0001.MP4')]),
    [plainFile(`${DCIM}/CLIP0001.MP4`), plainFile(`${DCIM}/CLIP0002.MP4`)],
  ],
  ['name without ending', edlEvent('AX', ...ONE, [from('CLIP0001')]), [plainFile(`${DCIM}/CLIP0001.MP4`), plainFile(`${DCIM}/CLIP0011.MP4`)]],
  ['name with another ending', edlEvent('AX', ...ONE, [from('CLIP0001.mov')]), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['name in other case', edlEvent('AX', ...ONE, [from('clip0001.mp4')]), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['blanks for signs', edlEvent('AX', ...ONE, [from('bell tower wide')]), [plainFile('day/bell_tower_wide.mov')]],
  ['accents composed otherwise', edlEvent('AX', ...ONE, [from('Gl\u00f6cke.mov')]), [plainFile('day/Glo\u0308cke.mov')]],
  ['accents lost on the way', edlEvent('AX', ...ONE, [from('Glocke.mov')]), [plainFile('day/Gl\u00f6cke.mov')]],
  ['source file instead of a name', edlEvent('AX', ...ONE, [from('pour wide'), file('CLIP0001.MP4')]), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['source file without a space behind the star', edlEvent('AX', ...ONE, ['*SOURCE FILE: CLIP0001.MP4']), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['path of another system', edlEvent('AX', ...ONE, ['* FROM FILE: S:\\day 1\\CLIP0001.MP4']), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['reel cut to 8 letters', edlEvent('BELL_TOW', ...ONE, [from('BELL_TOWER_01.mov')]), [plainFile('day/BELL_TOWER_01.mov')]],
  [
    'reel from a card folder',
    edlEvent('CARD_B', ...ONE, [from('C0001.MP4')]),
    [plainFile(`CARD_B/${DCIM}/C0001.MP4`), plainFile(`CARD_A/${DCIM}/C0001.MP4`)],
  ],
  [
    'reel from a card that is the whole shelf',
    edlEvent('CARD_B', ...ONE, [from('C0001.MP4')]),
    [plainFile(`${DCIM}/C0001.MP4`, {}, 'B'), plainFile(`${DCIM}/C0001.MP4`, {}, 'A')],
  ],
  ['reel from a plain folder', edlEvent('A001', ...ONE, [from('C0001')]), [plainFile('A001/C0001.mov'), plainFile('A002/C0001.mov')]],
  [
    'reel before the first sign, and timecode',
    edlEvent('A001', ...TEN),
    [timedFile('day/A001_C001.mov', 10, 0), timedFile('day/A001_C002.mov', 10, 5)],
  ],
  [
    'reel before the second sign, and timecode',
    edlEvent('A001C001', ...TEN),
    [timedFile('day/A001_C001_0314AB.mov', 10, 0), timedFile('day/A001_C002_0314AB.mov', 10, 0)],
  ],
  ['reel is the whole name, and timecode', edlEvent('B_0412', ...TEN), [timedFile('day/B_0412.mov', 10, 0), timedFile('day/B_0413.mov', 10, 0)]],
  [
    'reel in the metadata, and timecode',
    edlEvent('A001', ...TEN),
    [timedFile('day/x.mov', 10, 0, { reel: 'A001' }), timedFile('day/y.mov', 10, 0, { reel: 'A002' })],
  ],
  [
    'reel in the metadata is longer',
    edlEvent('A001C001', ...TEN),
    [timedFile('day/x.mov', 10, 0, { reel: 'A001C001_260314' }), timedFile('day/y.mov', 10, 0, { reel: 'A001C002_260314' })],
  ],
  ['reel in the metadata with signs', edlEvent('A001C001', ...TEN), [timedFile('day/x.mov', 10, 0, { reel: 'A001_C001' })]],
  ['reel with blanks', edlEvent('ROLL 12', ...TEN), [timedFile('day/x.mov', 10, 0, { reel: 'ROLL_12' })]],
  [
    'whole reel name in a comment',
    edlEvent('A001C001', ...TEN, ['* FULL REEL NAME: A001C001_260314_R1']),
    [timedFile('day/x.mov', 10, 0, { reel: 'A001C001_260314_R1' })],
  ],
  [
    'of one reel the file that holds the timecode',
    edlEvent('A001', '10:05:01:00', '10:05:02:10'),
    [timedFile('d/A001_C002.mov', 10, 5), timedFile('d/A001_C001.mov', 10, 0), timedFile('d/A001_C003.mov', 10, 7)],
  ],
  [
    'name and timecode against the same name without',
    edlEvent('AX', ...TEN, [from('C0001.MP4')]),
    [timedFile('A/C0001.MP4', 10, 0), plainFile('B/C0001.MP4')],
  ],
  ['name and timecode of two cards', edlEvent('AX', ...TEN, [from('C0001.MP4')]), [timedFile('A/C0001.MP4', 10, 0), timedFile('B/C0001.MP4', 11, 0)]],
  ['counted from one hour', edlEvent('AX', ...HOUR, [from('CLIP0001.MP4')]), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  [
    'a graphic',
    edlEvent('AX', ...ONE, [from('lower_third.png')]),
    [plainFile('gfx/lower_third.png', { kind: 'still', rate: null, durationFrames: null })],
  ],
  [
    'one frame of numbered pictures',
    edlEvent('AX', '00:00:00:05', '00:00:01:00', [from('pour_v003.1010.dpx')]),
    [
      plainFile('p/pour_v003.[1001-1072].dpx', {
        kind: 'sequence',
        rate: null,
        durationFrames: 72,
        sequence: { prefix: 'pour_v003.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1072, missingRuns: [] },
      }),
    ],
  ],
  [
    'numbered pictures by what stands before the number',
    edlEvent('AX', '00:00:00:05', '00:00:01:00', [from('pour_v003')]),
    [
      plainFile('p/pour_v003.[1001-1072].dpx', {
        kind: 'sequence',
        rate: null,
        durationFrames: 72,
        sequence: { prefix: 'pour_v003.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1072, missingRuns: [] },
      }),
    ],
  ],
  ['something added to the file, with timecode', edlEvent('AX', ...TEN, [from('A001_C001')]), [timedFile('d/A001_C001.new.01.mov', 10, 0)]],
  ['something added in the list, with timecode', edlEvent('AX', ...TEN, [from('A001_C001.new.01')]), [timedFile('d/A001_C001.mov', 10, 0)]],
  ['a copy, with timecode', edlEvent('AX', ...TEN, [from('A001_C001.mov')]), [timedFile('d/A001_C001 copy.mov', 10, 0)]],
  ['synced, with timecode', edlEvent('AX', ...TEN, [from('A001_C001.sync')]), [timedFile('d/A001_C001.mov', 10, 0)]],
  ['a speed behind the name, with timecode', edlEvent('AX', ...TEN, [from('A001_C001 (47.56 FPS)')]), [timedFile('d/A001_C001.mov', 10, 0)]],
  ['signs lost in the list, with timecode', edlEvent('AX', ...TEN, [from('A001C001')]), [timedFile('d/A001_C001.mov', 10, 0)]],
  [
    'the very name before the one with something added',
    edlEvent('AX', ...ONE, [from('CLIP.mov')]),
    [plainFile('d/CLIP.mov'), plainFile('d/CLIP_1.mov'), plainFile('d/CLIP copy.mov')],
  ],
  [
    'a name with an ending of its own',
    edlEvent('AX', ...ONE, [file('ZZ100_501.LAY3.01')]),
    [plainFile('d/ZZ100_501.LAY3.01.mov'), plainFile('d/ZZ100_501.LAY3.02.mov')],
  ],
  ['comment without a star', edlEvent('AX', ...ONE, ['FROM CLIP NAME: shot1']), [plainFile('d/shot1.mov')]],
  ['sound of the picture file', edlEvent('AX', ...ONE, [from('CLIP0001.MP4')], 'A'), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['sound file by its name', edlEvent('AX', ...ONE, [from('T0007.WAV')], 'A'), [soundFile('s/T0007.WAV')]],
  ['sound file by its timecode and name', edlEvent('AX', ...TEN, [from('T0007')], 'AA'), [soundFile('s/T0007.WAV', { startFrame: 36_000 * 48_000 })]],
  [
    'picture and sound, each of its own file',
    edlEvent('AX', ...ONE, [from('TAKE03')], 'B'),
    [plainFile('T/TAKE03.MOV', { audio: [] }), soundFile('T/TAKE03.WAV')],
  ],
  [
    'the same content twice',
    edlEvent('AX', ...ONE, [from('C0001.MP4')]),
    [plainFile('A/C0001.MP4', {}, 'A', { fingerprint: '2:same:14/14' }), plainFile('B/C0001.MP4', {}, 'B', { fingerprint: '2:same:14/14' })],
  ],
  [
    'split sound of one recording',
    edlEvent('AX', ...TEN, [from('T0007')], 'A'),
    [
      soundFile('s/T0007_1.WAV', { startFrame: 36_000 * 48_000, materialId: 'F1' }),
      soundFile('s/T0007_2.WAV', { startFrame: 36_000 * 48_000, materialId: 'F1' }),
    ],
  ],
  [
    'renamed by a sort',
    edlEvent('AX', ...ONE, [from('CLIP0001.MP4')]),
    [plainFile('Sorted/2026-03-14_001.MP4', {}, 'A', { originalName: 'CLIP0001.MP4' })],
  ],
  ['OTIO, path of another machine', otio('Pour', external('file:///Volumes/OTHER/day/CLIP0001.MP4'), 25), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['OTIO, path with a drive letter', otio('Pour', external('file:///D:/day/CLIP0001.MP4'), 25), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['OTIO, encoded path', otio('Pour', external('file:///x/bell%20tower.mov'), 25), [plainFile('d/bell tower.mov')]],
  ['OTIO, plain path of another system', otio('Pour', external('S:\\day\\CLIP0001.MP4'), 25), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['OTIO, missing reference and the name of the clip', otio('CLIP0001.MP4', missing(), 25), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['OTIO, the name of the missing reference', otio('Pour', missing('CLIP0001.MP4'), 25), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  ['OTIO, reel of a list in its metadata', otio('Pour', missing(), 900_025, { cmx_3600: { reel: 'A001' } }), [timedFile('d/A001_C001.mov', 10, 0)]],
  [
    'OTIO, comments of a list in its metadata',
    otio('Pour', missing(), 25, { cmx_3600: { comments: ['SOURCE FILE: CLIP0001.MP4'] } }),
    [plainFile(`${DCIM}/CLIP0001.MP4`)],
  ],
  [
    'OTIO, keys of another adapter',
    otio('Pour', missing('', { other: { 'Source File': 'CLIP0001.MP4', 'Tape Name': 'CARD_B' } }), 25),
    [plainFile(`CARD_B/${DCIM}/CLIP0001.MP4`), plainFile(`CARD_A/${DCIM}/CLIP0001.MP4`)],
  ],
  [
    'OTIO, a reel inside a timecode',
    otio('Pour', missing('', { other: { timecode: { reel: { name: 'A001' } } } }), 900_025),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  [
    'OTIO, stated length and start',
    otio('Pour', external('file:///x/A001_C001.mov', timeRange(900_000, 1500, PAL)), 900_025),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  [
    'OTIO, counts from 0 though the file has timecode',
    otio('Pour', external('file:///x/A001_C001.mov', timeRange(0, 1500, PAL)), 25),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  ['OTIO, sound track', otio('Atmos', external('file:///x/T0007.WAV'), 25, {}, 'Audio'), [soundFile('s/T0007.WAV')]],
  ['clip list, name alone', csv('Name,Bin', 'CLIP0001,Day 1'), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  [
    'clip list, tape and timecode',
    csv('Name,Tape,Start,In,Out', 'Pour,A001,10:00:00:00,10:00:01:00,10:00:02:10'),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  ['clip list, file in a path', csv('Clip;File', 'Pour;\\\\server\\day\\CLIP0001.MP4'), [plainFile(`${DCIM}/CLIP0001.MP4`)]],
  [
    'clip list, tabs and other titles',
    csv('Clip Name\tSource File\tCamera Reel', 'Pour\tC0001.MP4\tCARD_B'),
    [plainFile(`CARD_B/${DCIM}/C0001.MP4`), plainFile(`CARD_A/${DCIM}/C0001.MP4`)],
  ],
  ['clip list, a sound file', csv('Name,Bin', 'T0007.WAV,Sound'), [soundFile('s/T0007.WAV')]],
];

const NTSC = rate(24_000, 1001);
const HOLED = { kind: 'sequence', rate: null, durationFrames: 72, sequence: { prefix: 'p.', suffix: '.dpx', padding: 4, firstNumber: 1, lastNumber: 72, missingRuns: [[30, 31]] } } as const; // prettier-ignore
const twin = (path: string, shelfId: string) => plainFile(path, {}, shelfId, { fingerprint: `2:${shelfId} ${path}:14/14` });

/** What it is, the list, the files: none of them may be taken. `away`: shelves that are unplugged. */
const OPEN: readonly (readonly [string, string, readonly Item[], { away?: readonly string[] }?])[] = [
  ['two files of one name on two cards', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'A'), twin('C0001.MP4', 'B')]],
  [
    'three of one name, no reel',
    edlEvent('AX', ...ONE, [from('C0001')]),
    [twin('a/C0001.MP4', 'A'), twin('b/C0001.MP4', 'A'), twin('c/C0001.MP4', 'A')],
  ],
  ['two of one name in other case', edlEvent('AX', ...ONE, [from('c0001.mp4')]), [twin('a/C0001.MP4', 'A'), twin('b/c0001.mp4', 'A')]],
  ['two of one stem', edlEvent('AX', ...ONE, [from('C0001')]), [twin('a/C0001.MP4', 'A'), twin('a/C0001.MOV', 'A')]],
  [
    'two of one name, both with the timecode',
    edlEvent('AX', ...TEN, [from('C0001.MP4')]),
    [timedFile('a/C0001.MP4', 10, 0), timedFile('b/C0001.MP4', 10, 0)],
  ],
  [
    'two dark files of one fingerprint',
    edlEvent('AX', ...ONE, [from('C0001.MP4')]),
    [plainFile('a/C0001.MP4', {}, 'A', { fingerprint: '2:dark:1/14' }), plainFile('b/C0001.MP4', {}, 'A', { fingerprint: '2:dark:1/14' })],
  ],
  [
    'two without a fingerprint',
    edlEvent('AX', ...ONE, [from('C0001.MP4')]),
    [plainFile('a/C0001.MP4', {}, 'A', { fingerprint: null }), plainFile('b/C0001.MP4', {}, 'A', { fingerprint: null })],
  ],
  ['two reels of one folder name', edlEvent('A001', ...ONE, [from('C0001')]), [twin('day1/A001/C0001.mov', 'A'), twin('day2/A001/C0001.mov', 'A')]],
  ['one of two cards is unplugged', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'A'), twin('C0001.MP4', 'B')], { away: ['B'] }],
  ['the only one is unplugged', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'B')], { away: ['B'] }],
  ['the right name on the wrong card', edlEvent('CARD_B', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'A')]],
  ['the right name in the wrong folder', edlEvent('A002', ...ONE, [from('C0001.MP4')]), [twin('A001/C0001.MP4', 'A')]],
  [
    'the right name, another reel in the metadata',
    edlEvent('A002', ...TEN, [from('C0001.mov')]),
    [timedFile('d/C0001.mov', 10, 0, { reel: 'A001' })],
  ],
  ['the right name, a reel that nothing answers to', edlEvent('TAPE7', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'A')]],
  ['a timecode before the file', edlEvent('AX', '09:59:59:00', '10:00:00:10', [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['a timecode behind the file', edlEvent('AX', '10:00:59:00', '10:01:00:10', [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['one frame behind the file', edlEvent('AX', '10:00:59:00', '10:01:00:01', [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['one frame before the file', edlEvent('AX', '09:59:59:24', '10:00:01:00', [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['a count from 0 that only lies within the file', edlEvent('AX', ...ONE, [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['a count from an hour that is not the timecode', edlEvent('AX', ...HOUR, [from('C0001.mov')]), [timedFile('d/C0001.mov', 10, 0)]],
  ['a time of day in a file without timecode', edlEvent('AX', '10:14:22:05', '10:14:23:00', [from('C0001.MP4')]), [twin('C0001.MP4', 'A')]],
  ['more than the file holds', edlEvent('AX', '00:00:01:00', '00:00:04:01', [from('C0001.MP4')]), [twin('C0001.MP4', 'A')]],
  [
    'two events, one beyond the file',
    `${edlEvent('AX', ...ONE, [from('C0001.MP4')])}002  AX       V     C        00:00:03:00 00:00:05:00 01:00:10:00 01:00:12:00\n${from('C0001.MP4')}\n`,
    [twin('C0001.MP4', 'A')],
  ],
  ['another rate', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [plainFile('C0001.MP4', { rate: NTSC })]],
  ['another rate with timecode', edlEvent('AX', ...TEN, [from('C0001.mov')]), [timedFile('C0001.mov', 10, 0, { rate: rate(24) })]],
  ['twice the rate', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [plainFile('C0001.MP4', { rate: rate(50) })]],
  ['a variable rate', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [plainFile('C0001.MP4', { rate: rate(29_831, 1000), steadyRate: false })]],
  ['a twin at another rate', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [twin('a/C0001.MP4', 'A'), plainFile('b/C0001.MP4', { rate: NTSC })]],
  ['a length that is not known', edlEvent('AX', ...ONE, [from('C0001.MP4')]), [plainFile('C0001.MP4', { durationFrames: null })]],
  ['picture wanted, a sound file', edlEvent('AX', ...ONE, [from('T0007')]), [soundFile('s/T0007.WAV')]],
  ['sound wanted, a silent picture', edlEvent('AX', ...ONE, [from('C0001')], 'A'), [plainFile('C0001.MP4', { audio: [] })]],
  [
    'picture wanted, no media',
    edlEvent('AX', ...ONE, [from('C0001')]),
    [plainFile('C0001.XML', { kind: 'other', rate: null, durationFrames: null })],
  ],
  ['timecode alone', edlEvent('AX', ...TEN), [timedFile('d/A001_C001.mov', 10, 0)]],
  ['timecode alone, two files', edlEvent('AX', ...TEN), [timedFile('d/A001_C001.mov', 10, 0), timedFile('e/B001_C001.mov', 10, 0)]],
  ['one reel, two files of that timecode', edlEvent('A001', ...TEN), [timedFile('d/A001_C001.mov', 10, 0), timedFile('e/A001_C002.mov', 10, 0)]],
  ['one reel, no timecode', edlEvent('A001', ...ONE), [twin('d/A001_C001.mov', 'A')]],
  ['one reel, a count from an hour', edlEvent('A001', ...HOUR), [twin('d/A001_C001.mov', 'A')]],
  [
    'a cut reel that two names begin with',
    edlEvent('BELLTOWE', ...TEN),
    [timedFile('d/BELLTOWER1.mov', 10, 0), timedFile('d/BELLTOWER2.mov', 10, 0)],
  ],
  ['something added, and nothing else', edlEvent('AX', ...ONE, [from('CLIP')]), [twin('d/CLIP copy.mov', 'A')]],
  ['a number added, and nothing else', edlEvent('AX', ...ONE, [from('MUS_1.mov')]), [twin('d/MUS.mov', 'A')]],
  ['another number', edlEvent('AX', ...ONE, [from('MUS_1.mov')]), [twin('d/MUS_2.mov', 'A')]],
  ['a number that is another take', edlEvent('AX', ...ONE, [from('CLIP0001')]), [twin('d/CLIP00011.mov', 'A')]],
  ['a name that only begins alike', edlEvent('AX', ...ONE, [from('CLIP')]), [twin('d/CLIPPER.mov', 'A')]],
  ['a name that only ends alike', edlEvent('AX', ...ONE, [from('0001.MP4')]), [twin('d/CLIP0001.MP4', 'A')]],
  ['an event number instead of a name', edlEvent('AX', ...ONE, [from('001')]), [twin('d/001.mov', 'A')]],
  ['a name that is no name', edlEvent('AX', ...ONE, [from('Untitled')]), [twin('d/Untitled.mov', 'A')]],
  [
    'the very name does not hold it, another ending does',
    edlEvent('AX', ...TEN, [from('A001_C001.mov')]),
    [plainFile('cut/A001_C001.mov', { durationFrames: 20, startFrame: 900_000 }), timedFile('d/A001_C001.mxf', 10, 0)],
  ],
  [
    'a frame number that the pictures do not have',
    edlEvent('AX', '00:00:00:05', '00:00:01:00', [from('pour_v003.2000.dpx')]),
    [
      plainFile('p/pour_v003.[1001-1072].dpx', {
        kind: 'sequence',
        rate: null,
        durationFrames: 72,
        sequence: { prefix: 'pour_v003.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1072, missingRuns: [] },
      }),
    ],
  ],
  ['numbered pictures with a hole', edlEvent('AX', '00:00:00:05', '00:00:01:00', [from('p')]), [plainFile('p/p.[0001-0072].dpx', HOLED)]],
  [
    'numbered pictures of another version',
    edlEvent('AX', '00:00:00:05', '00:00:01:00', [from('pour_v003')]),
    [
      plainFile('p/pour_v004.[1001-1072].dpx', {
        kind: 'sequence',
        rate: null,
        durationFrames: 72,
        sequence: { prefix: 'pour_v004.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1072, missingRuns: [] },
      }),
    ],
  ],
  [
    'OTIO, another length is stated',
    otio('Pour', external('file:///x/A001_C001.mov', timeRange(900_000, 2000, PAL)), 900_025),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  [
    'OTIO, another start is stated',
    otio('Pour', external('file:///x/A001_C001.mov', timeRange(800_000, 1500, PAL)), 800_025),
    [timedFile('d/A001_C001.mov', 10, 0)],
  ],
  [
    'OTIO, a reel that contradicts',
    otio('Pour', external('file:///x/C0001.MP4', null, { mill_shelf: { reel: 'CARD_B' } }), 25),
    [twin('C0001.MP4', 'A')],
  ],
  ['OTIO, a reel of its metadata contradicts', otio('C0001.MP4', missing(), 25, { cmx_3600: { reel: 'CARD_B' } }), [twin('C0001.MP4', 'A')]],
  ['OTIO, two of one name', otio('Pour', external('file:///x/C0001.MP4'), 25), [twin('a/C0001.MP4', 'A'), twin('b/C0001.MP4', 'A')]],
  ['OTIO, no name at all', otio('', missing(), 25), [twin('C0001.MP4', 'A')]],
  [
    'OTIO, sound track and a silent picture',
    otio('Atmos', external('file:///x/C0001.MP4'), 25, {}, 'Audio'),
    [plainFile('C0001.MP4', { audio: [] })],
  ],
  ['clip list, two of one name', csv('Name,Bin', 'C0001,Day 1'), [twin('a/C0001.MP4', 'A'), twin('b/C0001.MP4', 'B')]],
  ['clip list, the wrong card', csv('Name,Reel', 'C0001,CARD_B'), [twin('C0001.MP4', 'A')]],
  ['clip list, another start', csv('Name,Start', 'A001_C001,11:00:00:00'), [timedFile('d/A001_C001.mov', 10, 0)]],
  ['clip list, points beyond the file', csv('Name,In,Out', 'C0001,00:00:03:00,00:00:05:00'), [twin('C0001.MP4', 'A')]],
  ['clip list, no such file', csv('Name,Bin', 'C0009,Day 1'), [twin('C0001.MP4', 'A')]],
  ['a wide reel that contradicts', edlEvent('FOUNDRY_CARD_NUMBER_SEVENTEEN', ...ONE, [from('C0001.MP4')]), [twin('C0001.MP4', 'A')]],
];

describe('a list finds its file', () => {
  it.each(TAKEN)('%s', (_, text, files) => {
    const { decisions } = matchList(text, files);
    expect(decisions).toHaveLength(1);
    expect(decisions[0]!.order[0]?.candidate.place).toEqual(files[0]!.place);
    expect(decisions[0]!.taken?.candidate.place).toEqual(files[0]!.place);
  });
});

describe('nothing is taken', () => {
  it.each(OPEN.map(([what, text, files, told]) => ({ what, text, files, told })))('$what', ({ text, files, told }) => {
    const { decisions } = matchList(text, files, told);
    expect(decisions.length).toBeLessThanOrEqual(1);
    expect(decisions[0]?.taken ?? null).toBeNull();
  });
});

describe('together', () => {
  const cards = ['C0001', 'C0002', 'C0003'].flatMap((name) => [plainFile(`A/${name}.MP4`), plainFile(`B/${name}.MP4`)]);
  const [first, ...others] = ['C0001', 'C0002', 'C0003'].map((name) => edlEvent('AX', ...ONE, [from(name)]));
  const told = (text: string) => matchList(text, cards).sources[0]!.told;

  it('one file that is accepted moves those beside it up, and takes none of them', () => {
    const wishes = [first!, ...others].map((text, index) => ({ key: String(index), told: told(text), accepted: index === 0 ? cards[1]!.id : null }));
    const context = { additions: additionsFrom([]), shelfName: () => 'A', isAttached: () => true };
    const decisions = matchAll(wishes, ({ told: { names } }) => ({ items: cards.filter(({ place }) => place.path.includes(names[0]!)), isCut: { names: false, reels: false } }), context); // prettier-ignore
    expect(['1', '2'].map((key) => decisions.get(key)!.order[0]!.candidate.place.path)).toEqual(['B/C0002.MP4', 'B/C0003.MP4']);
    expect([...decisions.values()].map(({ taken }) => taken)).toEqual([null, null, null]);
  });
});

describe('rules of what is added', () => {
  it('whatever the rules, nothing breaks, and what one adds is found again by the index and by the name', () => {
    const letters = fc.stringMatching(/^[ _.A-Za-z#()[\]$^*+?{}|\\@%-]{1,12}$/);
    fc.assert(
      fc.property(fc.array(letters, { maxLength: 6 }), fc.constantFrom('A001_C001', 'bell tower', 'Türe'), (rules, stem) => {
        const additions = additionsFrom(rules);
        for (const rule of additions.rules) {
          const made = stem + rule.replaceAll('#', '7');
          expect(additions.before(made)).toContain(stem);
          const plain = plainName(made);
          expect(additions.ranges(plainName(stem)).some(({ from: low, to, length }) => plain >= low && plain < to && plain.length === length)).toBe(
            true,
          );
        }
      }),
      { numRuns: 300 },
    );
  });
});

it('there are sixty of each', () => {
  expect(TAKEN.length).toBeGreaterThanOrEqual(60);
  expect(OPEN.length).toBeGreaterThanOrEqual(60);
});
