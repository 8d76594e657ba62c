/** Lines of a CMX 3600 edit decision list, read but not yet laid on tracks. Frames count from 00:00:00:00. */

export interface EdlEvent {
  readonly line: number;
  readonly number: string;
  readonly reel: string;
  readonly channels: readonly string[];
  readonly transition: { readonly type: 'cut' | 'dissolve' | 'wipe'; readonly wipe: string; readonly frames: number };
  readonly sourceIn: number;
  readonly sourceOut: number;
  readonly recordIn: number;
  readonly recordOut: number;
  readonly dropFrame: boolean;
  /** Source frames a second of an M2 line; null at normal speed. */
  speedFps: number | null;
  fromClipName: string;
  toClipName: string;
  sourceFile: string;
  readonly comments: string[];
}

export interface EdlList {
  readonly title: string;
  readonly dropFrame: boolean;
  readonly events: readonly EdlEvent[];
}
