/** The three timelines of the production, as OTIO, and an old list of the assembly as CMX 3600. */
import type { Json, OtioObject } from '../src/core/interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  formatOtio,
  gapDocument,
  markerDocument,
  rationalTime,
  sequenceReference,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../src/core/interchange/otio/otio-writer';
import { rate } from '../src/core/time/rate';
import { fileName } from '../src/core/media/item';
import { BUNDLE_SHOTS, LOWER_THIRD, PICTURES, SEQUENCE, SOUNDS, STILLS } from './media-script';

const PAL = rate(25);

interface Media {
  readonly url: string;
  readonly start: number;
  readonly frames: number | null;
}

/** Addresses as an edit on another machine would have them: the drive's name is a folder of the path. */
function mediaOf(name: string): Media {
  const url = (drive: string, path: string) => `file:///Volumes/${drive}/${path.split('/').map(encodeURIComponent).join('/')}`;
  const picture = PICTURES.find((file) => fileName(file.path).startsWith(name));
  if (picture) return { url: url(picture.drive, picture.path), start: picture.start ?? 0, frames: picture.frames };
  const sound = SOUNDS.find((file) => fileName(file.path).startsWith(name));
  if (sound) return { url: url(sound.drive, sound.path), start: (sound.timeReference ?? 0) / 1920, frames: sound.seconds * 25 };
  const still = [...STILLS, LOWER_THIRD].find((file) => fileName(file.path).startsWith(name));
  if (still) return { url: url(still.drive, still.path), start: 0, frames: null };
  throw new Error(`no media called ${name}`);
}

interface CutOptions {
  readonly speed?: number;
  readonly name?: string;
  readonly marker?: string;
}

/** `from`: frames after the media's first; `length`: frames on the timeline. */
function cut(name: string, from: number, length: number, options: CutOptions = {}): OtioObject {
  const media = mediaOf(name);
  const available = media.frames === null ? null : timeRange(media.start, media.frames, PAL);
  const effects: Json[] = options.speed === undefined ? [] : [timeWarp(options.speed)];
  const clip = clipDocument(options.name ?? name, timeRange(media.start + from, length, PAL), externalReference(media.url, name, available), effects);
  if (options.marker)
    clip.markers = [
      {
        OTIO_SCHEMA: 'Marker.2',
        metadata: {},
        name: options.marker,
        color: 'GREEN',
        marked_range: timeRange(media.start + from + 10, 1, PAL),
        comment: '',
      },
    ];
  return clip;
}

function sequenceCut(from: number, length: number): OtioObject {
  const { drive, folder, prefix, suffix, first, count } = SEQUENCE;
  const parts = { folderUrl: `file:///Volumes/${drive}/${folder}/`, prefix, suffix, padding: 4, startNumber: first, rate: PAL };
  return clipDocument('pour_v003', timeRange(first + from, length, PAL), sequenceReference(parts, 'pour_v003', timeRange(first, count, PAL)));
}

const gap = (length: number) => gapDocument(length, PAL);
const dissolve = (each: number) => transitionDocument(each, each, PAL);

function nested(name: string, from: number, length: number, tracks: Json[]): OtioObject {
  return {
    OTIO_SCHEMA: 'Stack.1',
    metadata: {},
    name,
    source_range: timeRange(from, length, PAL),
    effects: [],
    markers: [],
    enabled: true,
    children: tracks,
  };
}

const montage = nested('Pouring montage', 10, 170, [
  trackDocument('V1', 'Video', [cut('A001_C005', 40, 60), cut('B_0412', 120, 70), sequenceCut(8, 60)]),
]);

/** Slower and slower up to the top of the tower, then on. */
function ramp(): OtioObject {
  const keys: Json[] = [[0, 1.5], [60, 0.5], [90, 0.5], [120, 1]]; // prettier-ignore
  return { OTIO_SCHEMA: 'TimeEffect.1', metadata: { mill_shelf: { speed_keys: keys } }, name: '', effect_name: 'TimeVaryingSpeed', enabled: true };
}

const mark = (at: number, name: string, colour: string): OtioObject => markerDocument(name, timeRange(at, 1, PAL), colour);

/** Version 6 as it was shown to the village, version 7 after its notes. */
function fineCut(version: 6 | 7): OtioObject {
  const newer = version === 7;
  const document = timelineDocument(`Fine cut v${version}`, rationalTime(900_000, PAL), [
    trackDocument('V1', 'Video', [
      cut('A001_C001', 100, 75, { name: 'Tuning fork', marker: 'check the hum' }),
      dissolve(8),
      cut('B_0412', newer ? 60 : 40, newer ? 90 : 110, { name: 'Pour wide' }),
      cut('A001_C002', 60, 80, { name: 'Ladle' }),
      cut('A001_C003', 70, 100, newer ? { name: 'Hoist, slow', speed: 0.5 } : { name: 'Hoist, slow' }),
      montage,
      ...(newer ? [] : [cut('B_0413', 40, 60, { name: 'Cope' })]),
      cut('A001_C002', 300, 60, { name: 'Ladle again' }),
      dissolve(6),
      cut('A002_C001', 120, 80, { name: 'Polish' }),
      cut('B_0419', 90, 60, { name: 'Clay' }),
      ...(newer ? [] : [cut('A002_C004', 60, 100, { name: 'First strike' })]),
      cut('archive_reel_1962', 60, 90, { name: 'Old foundry' }),
      ...(newer ? [cut('A001_C002', 410, 40, { name: 'Ladle, last drop' })] : []),
      newer ? { ...cut('A002_C003', 200, 120, { name: 'Tower' }), effects: [ramp()] } : cut('A002_C003', 200, 120, { name: 'Tower' }),
      ...(newer ? [cut('A002_C004', 60, 100, { name: 'First strike' })] : []),
    ]),
    trackDocument('V2', 'Video', [
      cut('title_opening', 0, 88, { name: 'Title' }),
      gap(200),
      { ...cut('lower_third_a', 0, 75, { name: 'Lower third' }), enabled: newer },
      gap(300),
      cut('drone_004', 30, 60, { name: 'Valley' }),
    ]),
    trackDocument('A1', 'Audio', [cut('SC-0314-07', 100, 245), cut('SC-0314-11', 60, 270), gap(60), cut('SC-0315-02', 210, 200)]),
    trackDocument('A2', 'Audio', [cut('MUS_slow_bell_mix4', 0, 930)]),
  ]);
  (document.tracks as OtioObject).markers = [mark(243, 'Part 1 ends', 'CYAN'), mark(965, newer ? 'Bell rings' : 'Bell rings, too early?', 'RED')];
  return document;
}

const trailer = timelineDocument('Trailer 30s', rationalTime(0, PAL), [
  trackDocument('V1', 'Video', [
    cut('A001_C005', 120, 40, { name: 'Sparks' }),
    cut('A001_C002', 180, 30, { name: 'Ladle' }),
    cut('B_0413', 100, 45, { name: 'Cope' }),
    cut('A002_C002', 150, 50, { name: 'Clapper' }),
    cut('A001_C003', 250, 40, { name: 'Hoist back', speed: -1 }),
    dissolve(5),
    cut('A002_C004', 70, 60, { name: 'First strike' }),
    cut('still_workshop_02', 0, 50, { name: 'Workshop still' }),
  ]),
  trackDocument('A1', 'Audio', [cut('MUS_slow_bell_mix4', 400, 315)]),
]);

const assembly = timelineDocument('Old assembly', rationalTime(900_000, PAL), [
  trackDocument('V1', 'Video', [
    cut('A001_C001', 0, 350),
    cut('A001_C002', 0, 480),
    cut('A001_C004', 20, 250),
    cut('B_0412', 0, 580),
    cut('B_0413', 20, 400),
    cut('A002_C003', 0, 440),
    cut('still_workshop_01', 0, 100),
  ]),
  trackDocument('A1', 'Audio', [cut('SC-0314-07', 0, 960), cut('SC-0314-12', 0, 400)]),
]);

/** A bin with a take that no timeline uses. */
const unusedBin: OtioObject = {
  OTIO_SCHEMA: 'SerializableCollection.1',
  metadata: {},
  name: 'Not used yet',
  children: [cut('A001_C006', 0, 300), cut('MUS_end_credits', 0, 750)],
};

export const TIMELINE_FILES: readonly { readonly name: string; readonly text: string }[] = [
  {
    name: 'fine_cut_v7.otio',
    text: formatOtio({ OTIO_SCHEMA: 'SerializableCollection.1', metadata: {}, name: 'Bronze Hour', children: [fineCut(7), unusedBin] }),
  },
  { name: 'trailer_30s.otio', text: formatOtio(trailer) },
  { name: 'old_assembly.otio', text: formatOtio(assembly) },
  { name: 'fine_cut_v6.otio', text: formatOtio(fineCut(6)) },
];

/** Not brought in by the demo: something to try. */
export const SPARE_LIST = `TITLE: BRONZE HOUR TEASER
FCM: NON-DROP FRAME

001  A001     V     C        09:14:05:00 09:14:08:00 10:00:00:00 10:00:03:00
* FROM CLIP NAME: A001_C001
* SOURCE FILE: A001_C001.mov
002  A002     V     C        08:31:14:00 08:31:16:00 10:00:03:00 10:00:05:00
* FROM CLIP NAME: A002_C004
* SOURCE FILE: A002_C004.mov
003  A001     V     D    012 09:16:08:00 09:16:11:00 10:00:05:00 10:00:08:00
* FROM CLIP NAME: A002_C004
* TO CLIP NAME: A001_C002
* SOURCE FILE: A001_C002.mov
`;

/** A list of selected takes, as an assistant keeps it in a spreadsheet. */
export const SELECTS = `Shot;Reel;File;In;Out;Bin;Remarks
Yard at noon;A001;A001_C006.mov;09:40:02:00;09:40:06:00;Selects/Day 1;wind on the sound
Clapper swings;A002;A002_C002.mov;08:09:03:10;08:09:08:00;Selects/Day 2;best take
Bell test;R001;ring_01.mov;14:00:00:10;14:00:02:00;Selects/Second unit;
`;

/** A sheet that only a bridge understands. */
export const CUT_SHEET = 'Alternative ending\nA002_C004.mov\t08:31:13:00\t75\nA002_C003.mov\t08:15:06:00\t100\n';

/** The timeline of a bundle with media of its own. */
export const BUNDLE_TIMELINE = formatOtio(
  timelineDocument('Ring test', rationalTime(0, PAL), [
    trackDocument(
      'V1',
      'Video',
      BUNDLE_SHOTS.map((shot) =>
        clipDocument(
          shot.label,
          timeRange(shot.start! + 5, shot.frames - 20, PAL),
          externalReference(`media/${shot.path}`, shot.label, timeRange(shot.start!, shot.frames, PAL)),
        ),
      ),
    ),
  ]),
);
