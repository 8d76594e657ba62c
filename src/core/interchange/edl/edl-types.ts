/** Lines of a CMX 3600 edit decision list, read but not yet laid on tracks. Frames count from 00:00:00:00. */
import type { Speed } from '../../time/retime';

export interface EdlLocator {
  /** Record frame. */
  readonly frame: number;
  readonly colour: string;
  readonly note: string;
}

export interface EdlEvent {
  readonly line: number;
  readonly number: string;
  readonly reel: string;
  /** "V", "A1", "A2"… AUD lines add to them. */
  readonly channels: string[];
  readonly transition: { readonly type: 'cut' | 'dissolve' | 'wipe'; readonly wipe: string; readonly frames: number };
  /** "K", "KB" or "KO" of a key, which is laid as a cut; empty otherwise. */
  readonly key: string;
  readonly sourceIn: number;
  readonly sourceOut: number;
  /** Frames since midnight of the day the list begins; an event after the next midnight counts on. */
  readonly recordIn: number;
  readonly recordOut: number;
  readonly dropFrame: boolean;
  /** Source in and out as they stand in the list. */
  readonly labels: readonly [string, string];
  /** Whether a label has a frame that the list's own rate does not have: its points are where that lies in time. */
  readonly isFiner: boolean;
  /** Whether a line states its speed. */
  isSpeedStated: boolean;
  /** From an M2 line, or from a source length that differs; null at normal speed. */
  speed: Speed | null;
  fromClipName: string;
  toClipName: string;
  /** The event's own file; of a transition the incoming one. */
  sourceFile: string;
  /** The whole name where the column holds a short one. */
  fullReel: string;
  /** By how much of a frame its source begins behind the in point, from 0 up to less than 1. */
  between: number;
  readonly locators: EdlLocator[];
  readonly comments: string[];
}

export interface EdlList {
  readonly title: string;
  readonly dropFrame: boolean;
  readonly events: readonly EdlEvent[];
}

/** Digits of an event number: no list holds more events than they count. */
export const MOST_EVENTS = 999;
export const LONGEST_REEL = 8;
/** Reels that are none: black, and auxiliary (a source without timecode). */
export const BLACK = 'BL';
export const AUXILIARY = 'AX';
/** What the editing system makes itself, by the reel that stands for it and the word OpenTimelineIO's CMX 3600 adapter has for it. */
export const MADE: ReadonlyMap<string, string> = new Map([
  [BLACK, 'black'],
  ['BLACK', 'black'],
  ['BARS', 'SMPTEBars'],
]);
/** Our own comment: by how much of a source frame a retimed event begins behind the frame of its in point. */
export const BETWEEN_FRAMES = 'IN POINT BETWEEN FRAMES';
