/** The picture track of an opened file with its decoder. Runs in the reader's process only. */
import { AVERROR_EAGAIN, AVMEDIA_TYPE_VIDEO, AVSEEK_FLAG_BACKWARD } from 'node-av/constants';
import { Codec, CodecContext, Dictionary, Frame, Packet, type FormatContext, type Stream } from 'node-av/lib';
import { NO_TIME, openFile } from './open-file';

const ATTACHED_PICTURE = 0x400;
/** More packets than this are not tried. */
const MOST_PACKETS = 5_000;

export interface Picture {
  readonly context: FormatContext;
  readonly stream: Stream;
  /** Seconds at which the file begins. */
  readonly begin: number;
}

/** What `use` makes of it; null where there is no picture track, or it does not open. */
export function withPicture<Result>(file: string, container: string, use: (picture: Picture) => Result): Result | null {
  const context = openFile(file, container);
  if (context === null) return null;
  try {
    const stream = context.streams.find(
      ({ codecpar, disposition }) => codecpar.codecType === AVMEDIA_TYPE_VIDEO && (disposition & ATTACHED_PICTURE) === 0,
    );
    return stream ? use({ context, stream, begin: context.startTime === NO_TIME ? 0 : Number(context.startTime) / 1e6 }) : null;
  } finally {
    context.closeInputSync();
  }
}

/** False where it cannot. `seconds`: from the begin of the file; it comes down at a key frame at or before it. */
export function seekTo({ context, begin }: Picture, seconds: number): boolean {
  return context.seekFrameSync(-1, BigInt(Math.floor((begin + seconds) * 1e6)), AVSEEK_FLAG_BACKWARD) >= 0;
}

/** Packets of the picture from where the file stands; each is valid until the next is asked for. */
export function* packetsOf({ context, stream }: Picture): Generator<Packet> {
  const packet = new Packet();
  packet.alloc();
  try {
    for (let count = 0; count < MOST_PACKETS;) {
      packet.unref();
      if (context.readFrameSync(packet) < 0) return;
      if (packet.streamIndex !== stream.index) continue;
      count++;
      yield packet;
    }
  } finally {
    packet.free();
  }
}

/** Decoded pictures from where the file stands; each is valid until the next is asked for. */
export function* framesOf(picture: Picture): Generator<Frame> {
  const codec = Codec.findDecoder(picture.stream.codecpar.codecId);
  if (!codec) return;
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  const frame = new Frame();
  frame.alloc();
  try {
    decoder.parametersToContext(picture.stream.codecpar);
    decoder.threadCount = 1;
    if (decoder.open2Sync(codec, Dictionary.fromObject({})) < 0) return;
    for (const packet of packetsOf(picture)) {
      let sent = decoder.sendPacketSync(packet);
      while (decoder.receiveFrameSync(frame) >= 0) yield frame;
      if (sent === AVERROR_EAGAIN) sent = decoder.sendPacketSync(packet);
    }
    decoder.sendPacketSync(null);
    while (decoder.receiveFrameSync(frame) >= 0) yield frame;
  } finally {
    frame.free();
    decoder.freeContext();
  }
}
