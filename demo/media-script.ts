/** What the made-up production shot: every file of "Bronze Hour", a short documentary on a village bell foundry. */

export interface PictureFile {
  readonly drive: string;
  readonly path: string;
  readonly label: string;
  readonly frames: number;
  /** Frame of the start timecode at 25 fps from midnight; null without timecode. */
  readonly start: number | null;
  readonly reel: string | null;
  readonly make: 'rdd36' | 'rdd36-silent' | 'rdd36-alpha' | 'h264' | 'hevc-hlg' | 'vc3-mxf';
  readonly hue: number;
}

export interface SoundFile {
  readonly drive: string;
  readonly path: string;
  readonly seconds: number;
  /** Start in samples since midnight at 48 kHz; null for music. */
  readonly timeReference: number | null;
  readonly tone: number;
  /** Reel in its iXML, which ties it to the camera's picture. */
  readonly reel?: string;
}

const at = (hours: number, minutes: number, seconds: number) => ((hours * 60 + minutes) * 60 + seconds) * 25;
const samples = (hours: number, minutes: number, seconds: number) => ((hours * 60 + minutes) * 60 + seconds) * 48_000;

function camera(drive: string, folder: string, reel: string, clip: number, label: string, seconds: number, start: number, hue: number): PictureFile {
  const name = `${reel}_C${String(clip).padStart(3, '0')}`;
  return { drive, path: `${folder}/${name}.mov`, label: `${name} ${label}`, frames: seconds * 25, start, reel, make: 'rdd36', hue };
}

export const PICTURES: readonly PictureFile[] = [
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 1, 'tuning fork', 16, at(9, 14, 0), 28),
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 2, 'ladle', 20, at(9, 16, 0), 18),
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 3, 'hoist', 14, at(9, 21, 10), 200),
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 4, 'mould', 12, at(9, 26, 5), 40),
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 5, 'sparks', 10, at(9, 31, 0), 10),
  camera('FOUNDRY-A', 'Day 1 rushes', 'A001', 6, 'yard', 12, at(9, 40, 0), 95),
  camera('FOUNDRY-A', 'Day 2 rushes', 'A002', 1, 'polish', 14, at(8, 2, 0), 48),
  camera('FOUNDRY-A', 'Day 2 rushes', 'A002', 2, 'clapper', 12, at(8, 9, 0), 220),
  camera('FOUNDRY-A', 'Day 2 rushes', 'A002', 3, 'tower', 18, at(8, 15, 0), 190),
  camera('FOUNDRY-A', 'Day 2 rushes', 'A002', 4, 'first strike', 10, at(8, 31, 12), 35),
  // Picture without sound: its two sound tracks are files of their own.
  { ...camera('FOUNDRY-A', 'Interview', 'A003', 1, 'the founder', 12, at(10, 2, 0), 280), make: 'rdd36-silent' },
  {
    drive: 'FOUNDRY-B',
    path: 'Camera B/B_0412_pour.mp4',
    label: 'B_0412 pour',
    frames: 24 * 25,
    start: at(9, 20, 0),
    reel: null,
    make: 'h264',
    hue: 14,
  },
  {
    drive: 'FOUNDRY-B',
    path: 'Camera B/B_0413_cope.mp4',
    label: 'B_0413 cope',
    frames: 18 * 25,
    start: at(9, 24, 0),
    reel: null,
    make: 'h264',
    hue: 60,
  },
  {
    drive: 'FOUNDRY-B',
    path: 'Camera B/B_0419_clay.mp4',
    label: 'B_0419 clay',
    frames: 12 * 25,
    start: at(9, 33, 0),
    reel: null,
    make: 'h264',
    hue: 24,
  },
  { drive: 'FOUNDRY-B', path: 'Drone/drone_004.mp4', label: 'drone 004', frames: 12 * 25, start: null, reel: null, make: 'hevc-hlg', hue: 130 },
  { drive: 'FOUNDRY-B', path: 'CARD-D07/DCIM/100MILLA/MIL_0007.mp4', label: 'roof', frames: 2 * 25, start: null, reel: null, make: 'h264', hue: 170 },
  {
    drive: 'STUDIO-RAID',
    path: 'Archive/archive_reel_1962.mxf',
    label: 'archive 1962',
    frames: 10 * 25,
    start: at(1, 0, 0),
    reel: 'ARCH1962',
    make: 'vc3-mxf',
    hue: 0,
  },
  { drive: 'STUDIO-RAID', path: 'Graphics/title_opening.mov', label: 'title', frames: 4 * 25, start: null, reel: null, make: 'rdd36-alpha', hue: 45 },
];

export const SOUNDS: readonly SoundFile[] = [
  { drive: 'SOUND-CART', path: '0314/SC-0314-07.wav', seconds: 40, timeReference: samples(9, 14, 0), tone: 220 },
  { drive: 'SOUND-CART', path: '0314/SC-0314-11.wav', seconds: 30, timeReference: samples(9, 20, 0), tone: 262 },
  { drive: 'SOUND-CART', path: '0314/SC-0314-12.wav', seconds: 20, timeReference: samples(9, 30, 0), tone: 294 },
  { drive: 'SOUND-CART', path: '0315/SC-0315-02.wav', seconds: 24, timeReference: samples(8, 15, 0), tone: 330 },
  { drive: 'FOUNDRY-A', path: 'Interview/A003_C001_lapel.wav', seconds: 12, timeReference: samples(10, 2, 0), tone: 123, reel: 'A003' },
  { drive: 'FOUNDRY-A', path: 'Interview/A003_C001_boom.wav', seconds: 12, timeReference: samples(10, 2, 0), tone: 131, reel: 'A003' },
  { drive: 'STUDIO-RAID', path: 'Music/MUS_slow_bell_mix4.wav', seconds: 60, timeReference: null, tone: 147 },
  { drive: 'STUDIO-RAID', path: 'Music/MUS_end_credits.wav', seconds: 30, timeReference: null, tone: 175 },
];

/** Files of the bundle that a second unit sent. */
export const BUNDLE_SHOTS: readonly PictureFile[] = [
  { drive: '', path: 'ring_01.mov', label: 'ring 01', frames: 75, start: at(14, 0, 0), reel: 'R001', make: 'rdd36', hue: 150 },
  { drive: '', path: 'ring_02.mov', label: 'ring 02', frames: 50, start: at(14, 5, 0), reel: 'R001', make: 'rdd36', hue: 165 },
];

/** A shot as the grading delivers it: frames `from` up to `to` of its take, under their timecode, without sound. */
function graded(path: string, of: string, from: number, to: number): PictureFile {
  const take = PICTURES.find((file) => file.path.endsWith(of))!;
  const label = `${path.split('/').at(-1)!.split('.')[0]!} graded`;
  return {
    ...take,
    drive: 'TRAVEL-SSD',
    path,
    label,
    frames: to - from,
    start: take.start! + from,
    make: 'rdd36-silent',
    hue: (take.hue + 325) % 360,
  };
}

/** The first delivery of the grading, one shot of it ten frames short, and one that was graded again. */
export const GRADED: readonly PictureFile[] = [
  graded('Grade v1/BH_070.mov', 'A002_C001.mov', 100, 230),
  graded('Grade v1/BH_120.mov', 'A002_C003.mov', 190, 360),
  graded('Grade v1/BH_130.mov', 'A002_C004.mov', 50, 150),
  graded('Grade v1/B_0412_pour_graded.mov', 'B_0412_pour.mp4', 40, 240),
  graded('Grade v2/BH_120.mov', 'A002_C003.mov', 190, 360),
];

/** When what lies in a folder was shot. */
export const SHOOT_DAYS: readonly (readonly [string, string])[] = [
  ['Day 1 rushes', '2026-03-14'],
  ['Day 2 rushes', '2026-03-15'],
  ['Interview', '2026-03-16'],
  ['Camera B', '2026-03-14'],
  ['Drone', '2026-03-15'],
  ['CARD-D07', '2026-03-15'],
  ['0314', '2026-03-14'],
  ['0315', '2026-03-15'],
];

/** A camera card that nobody has looked at yet, with what its camera writes beside the pictures. */
export const CARD = { drive: 'FOUNDRY-B', folder: 'CARD-D07', papers: ['MISC/card.txt', 'DCIM/100MILLA/.index'] };

export const SEQUENCE = { drive: 'STUDIO-RAID', folder: 'Pictures/pour_v003', prefix: 'pour_v003.', suffix: '.dpx', first: 1001, count: 72, hue: 16 };
export const STILLS = [
  { drive: 'STUDIO-RAID', path: 'Stills/still_workshop_01.jpg', label: 'workshop 01', hue: 30 },
  { drive: 'STUDIO-RAID', path: 'Stills/still_workshop_02.jpg', label: 'workshop 02', hue: 210 },
];
export const LOWER_THIRD = { drive: 'STUDIO-RAID', path: 'Graphics/lower_third_a.png' };

/** Simulated drives with their capacity. */
export const DRIVES = [
  { name: 'FOUNDRY-A', capacityBytes: 192_000_000 },
  { name: 'FOUNDRY-B', capacityBytes: 64_000_000 },
  { name: 'SOUND-CART', capacityBytes: 32_000_000 },
  { name: 'STUDIO-RAID', capacityBytes: 480_000_000 },
  { name: 'TRAVEL-SSD', capacityBytes: 320_000_000 },
];
