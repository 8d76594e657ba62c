/** What stands on a shelf: one media file, or one image sequence. */
import type { Rate } from '../time/rate';
import type { FileIdentity } from './identity';

/** Shelf and the path below its root, with `/`. No absolute path exists in the core. */
export interface Place {
  readonly shelfId: string;
  readonly path: string;
}

export type ItemKind = 'video' | 'audio' | 'still' | 'sequence' | 'other';

export interface VideoFacts {
  readonly codec: string;
  readonly profile: string | null;
  readonly width: number;
  readonly height: number;
  readonly pixelFormat: string;
  readonly bitDepth: number;
  readonly alpha: boolean;
  readonly colorTransfer: string | null;
  readonly colorPrimaries: string | null;
  /** Matrix that its tags name; absent where they name none, or an earlier version read the file. */
  readonly colorMatrix?: string;
  /** Degrees clockwise by which it is turned when it is shown; absent where it stands upright, or an earlier version read the file. */
  readonly rotation?: 90 | 180 | 270;
  /** Two fields a frame; absent where it is progressive, or an earlier version read the file. */
  readonly interlaced?: boolean;
}

export interface AudioFacts {
  readonly codec: string;
  readonly channels: number;
  readonly sampleRate: number;
  readonly bitDepth: number | null;
}

/** `spacing`: frames from the first key frame to the next one; 1 where all that was looked at are key frames that stand alone, null where the next one was not found soon. */
export interface KeyFrames {
  readonly spacing: number | null;
}

/** Numbers from the first to the last, both inclusive. */
export type NumberRun = readonly [number, number];

/** Numbered files that are one picture item. Numbers are inclusive, as in the file names. */
export interface SequenceFacts {
  readonly prefix: string;
  readonly suffix: string;
  readonly padding: number;
  readonly firstNumber: number;
  readonly lastNumber: number;
  /** In order, without overlap. */
  readonly missingRuns: readonly NumberRun[];
}

/** What a file holds beside its first picture track and its sound. Its timecode track is not counted. */
export interface ExtraTracks {
  readonly pictures: number;
  /** Cover pictures. */
  readonly covers: number;
  readonly subtitles: number;
  readonly data: number;
}

export interface MediaFacts {
  readonly kind: ItemKind;
  readonly container: string;
  /** Edit rate: pictures a second, or samples a second for sound alone. Null for stills and other files. */
  readonly rate: Rate | null;
  /** Length in units of `rate`. */
  readonly durationFrames: number | null;
  /** Start timecode as a count of `rate` units since midnight; null where the file carries none. */
  readonly startFrame: number | null;
  readonly startTimecode: string | null;
  readonly dropFrame: boolean;
  readonly reel: string | null;
  /** Identifier that the files of one recording share: MXF material package, family of a broadcast WAV. */
  readonly materialId?: string | null;
  readonly video: VideoFacts | null;
  readonly audio: readonly AudioFacts[];
  readonly sequence: SequenceFacts | null;
  /** Absent where an earlier version read the file. */
  readonly extraTracks?: ExtraTracks;
  /** Day it was recorded, as 2026-05-04, and what camera or recorder wrote of it; absent where it did not. */
  readonly recordedOn?: string;
  readonly camera?: string;
  readonly scene?: string;
  readonly take?: string;
  /** Whether the pictures come at one constant rate; absent where an earlier version read the file. */
  readonly steadyRate?: boolean;
  /** Key frames of a codec that may have frames between them, as they were read; absent where the codec has none, or it was not read. */
  readonly keyFrames?: KeyFrames;
  /** Frames that lie in the file, where more do than are shown: an edit list leaves some out. Absent where all are shown. */
  readonly storedFrames?: number;
}

export interface Item {
  readonly id: string;
  readonly place: Place;
  readonly sizeBytes: number;
  readonly modifiedMs: number;
  /** As the stocktake saw it; null where an earlier version did. */
  readonly identity: FileIdentity | null;
  /** Sampled fingerprint of the content (see fingerprint.ts); null when it could not be read. */
  readonly fingerprint: string | null;
  /** SHA-256 of every byte, where a run has read it whole since it was last written. */
  readonly sha256?: string | null;
  /** Equal for equal bytes, where every byte was read once: files that have it are copies of each other. */
  readonly content?: string;
  readonly facts: MediaFacts;
  /** Name it came with, where a sort has given it another. */
  readonly originalName?: string;
  /** Why the file could not be read as media, in a sentence; null when it could. */
  readonly problem: string | null;
  /** What of it cannot be read though it is media, in a sentence: it is cut off, has no index, does not decode. Absent where nothing is known. */
  readonly damage?: string;
}

export function fileName(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

export function folderOf(path: string): string {
  const cut = path.lastIndexOf('/');
  return cut < 0 ? '' : path.slice(0, cut);
}

export function joinPath(...parts: readonly string[]): string {
  return parts.filter((part) => part !== '').join('/');
}

export function below(root: Place, path: string): Place {
  return { shelfId: root.shelfId, path: joinPath(root.path, path) };
}

export function samePlace(a: Place | null, b: Place | null): boolean {
  return a !== null && b !== null && a.shelfId === b.shelfId && a.path === b.path;
}

export function placeKey(place: Place): string {
  return `${place.shelfId}\n${place.path}`;
}
