declare module 'smpte-timecode' {
  export default class Timecode {
    constructor(frame: number, frameRate: number, dropFrame: boolean);
    toString(): string;
  }
}
