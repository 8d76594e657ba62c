/** Whether a picture comes out at a moment of a file, by the library. Runs in the reader's process only. */
import { AVERROR_EAGAIN, AVMEDIA_TYPE_VIDEO, AVSEEK_FLAG_BACKWARD } from 'node-av/constants';
import { Codec, CodecContext, Dictionary, Frame, Packet, type FormatContext, type Stream } from 'node-av/lib';
import { NO_TIME, openFile } from './open-file';

export interface Moment {
  readonly file: string;
  readonly container: string;
  /** From the begin of the file. */
  readonly seconds: number;
  /** The key frame before is enough. */
  readonly fromKey: boolean;
}

/** More packets than this are not tried: whoever asks lets ffmpeg look. */
const MOST_PACKETS = 5_000;
const ATTACHED_PICTURE = 0x400;

/** True where one came. False says nothing: ffmpeg is the judge of what does not come. */
export function pictureComes({ file, container, seconds, fromKey }: Moment): boolean {
  const context = openFile(file, container);
  if (context === null) return false;
  try {
    const stream = context.streams.find(
      ({ codecpar, disposition }) => codecpar.codecType === AVMEDIA_TYPE_VIDEO && (disposition & ATTACHED_PICTURE) === 0,
    );
    return stream ? comesFrom(context, stream, seconds, fromKey) : false;
  } finally {
    context.closeInputSync();
  }
}

function comesFrom(context: FormatContext, stream: Stream, seconds: number, fromKey: boolean): boolean {
  const codec = Codec.findDecoder(stream.codecpar.codecId);
  if (!codec) return false;
  const begin = context.startTime === NO_TIME ? 0 : Number(context.startTime) / 1e6;
  if (seconds > 0 && context.seekFrameSync(-1, BigInt(Math.floor((begin + seconds) * 1e6)), AVSEEK_FLAG_BACKWARD) < 0) return false;
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  const packet = new Packet();
  packet.alloc();
  const frame = new Frame();
  frame.alloc();
  try {
    decoder.parametersToContext(stream.codecpar);
    decoder.threadCount = 1;
    if (decoder.open2Sync(codec, Dictionary.fromObject({})) < 0) return false;
    const from = seconds > 0 && !fromKey ? begin + seconds : -Infinity;
    const { num, den } = stream.timeBase;
    /** Whether one of the pictures that lie ready is not before the moment. */
    const isReady = () => {
      while (decoder.receiveFrameSync(frame) >= 0) {
        const time = frame.bestEffortTimestamp;
        // Times of a file are rounded to its own unit: half of that is no earlier.
        if (time === NO_TIME || ((Number(time) + 0.5) * num) / den >= from) return true;
      }
      return false;
    };
    for (let count = 0; count < MOST_PACKETS;) {
      packet.unref();
      if (context.readFrameSync(packet) < 0) {
        decoder.sendPacketSync(null);
        return isReady();
      }
      if (packet.streamIndex !== stream.index) continue;
      count++;
      let sent = decoder.sendPacketSync(packet);
      if (sent === AVERROR_EAGAIN) {
        if (isReady()) return true;
        sent = decoder.sendPacketSync(packet);
      }
      if (sent >= 0 && isReady()) return true;
    }
    return false;
  } finally {
    frame.free();
    packet.free();
    decoder.freeContext();
  }
}
