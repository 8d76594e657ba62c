declare module 'smpte-timecode' {
  export default class Timecode {
    constructor(time: number | string, frameRate: number, dropFrame: boolean);
    toString(): string;
    /** Frames since midnight. */
    readonly frameCount: number;
  }
}
