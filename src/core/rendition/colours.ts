/** How colours are written in what is made of a source, by ffmpeg's words for them. Always said: readers guess by size else. */
import type { VideoFacts } from '../media/item';

export interface Colours {
  /** From red, green and blue to luma and colour difference: ITU-R BT.709, BT.601 (smpte170m, bt470bg) or BT.2020. */
  readonly matrix: 'bt709' | 'smpte170m' | 'bt470bg' | 'bt2020nc';
  readonly primaries: string;
  readonly transfer: string;
}

type Seen = Pick<VideoFacts, 'pixelFormat' | 'width' | 'height' | 'colorTransfer' | 'colorPrimaries' | 'colorMatrix'>;

/** Lines from which pictures are of high definition, and coded after BT.709 where nothing else is said (common practice). */
const HD_LINES = 720;
const PAL_LINES = 576;

export function isRgb({ pixelFormat }: Pick<VideoFacts, 'pixelFormat'>): boolean {
  return /^(gbr|rgb|bgr|argb|abgr|rgba|bgra|0rgb|0bgr|rgb0|bgr0|x2rgb|x2bgr|pal8)/.test(pixelFormat);
}

/** Of what is made of it: what its tags say, else by its size. The pictures of a source that is no RGB keep the matrix they have. */
export function coloursOf(video: Seen): Colours {
  const matrix = matrixOf(video);
  const transfer = SAID_OTHERWISE[video.colorTransfer ?? ''] ?? video.colorTransfer ?? '';
  return {
    matrix,
    primaries: KNOWN_PRIMARIES.has(video.colorPrimaries ?? '') ? video.colorPrimaries! : PRIMARIES[matrix],
    transfer: KNOWN_TRANSFERS.has(transfer) ? transfer : TRANSFERS[matrix],
  };
}

/** Words that are read from files and written in other words. */
const SAID_OTHERWISE: Readonly<Record<string, string>> = {
  bt470m: 'gamma22',
  bt470bg: 'gamma28',
  log100: 'log',
  log316: 'log_sqrt',
  bt1361e: 'bt1361',
};
const KNOWN_TRANSFERS = new Set(['bt709', 'gamma22', 'gamma28', 'smpte170m', 'smpte240m', 'linear', 'log', 'log_sqrt', 'iec61966-2-4', 'bt1361', 'iec61966-2-1', 'bt2020-10', 'bt2020-12', 'smpte2084', 'smpte428', 'arib-std-b67']); // prettier-ignore
const KNOWN_PRIMARIES = new Set(['bt709', 'bt470m', 'bt470bg', 'smpte170m', 'smpte240m', 'film', 'bt2020', 'smpte428', 'smpte431', 'smpte432']);

const PRIMARIES: Readonly<Record<Colours['matrix'], string>> = { bt709: 'bt709', smpte170m: 'smpte170m', bt470bg: 'bt470bg', bt2020nc: 'bt2020' };
/** BT.601, BT.709 and BT.2020 of ordinary range share one curve. */
const TRANSFERS: Readonly<Record<Colours['matrix'], string>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'smpte170m',
  bt2020nc: 'bt2020-10',
};

function matrixOf({ colorMatrix, colorPrimaries, height, width }: Seen): Colours['matrix'] {
  const said = [colorMatrix, colorPrimaries].find((word) => word && word in BY_WORD);
  if (said) return BY_WORD[said]!;
  const lines = Math.min(width, height);
  return lines >= HD_LINES || Math.max(width, height) >= 1280 ? 'bt709' : lines === PAL_LINES ? 'bt470bg' : 'smpte170m';
}

const BY_WORD: Readonly<Record<string, Colours['matrix']>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'bt470bg',
  bt2020nc: 'bt2020nc',
  bt2020: 'bt2020nc',
};

/** As the scaler names matrices. */
export const SCALER_MATRIX: Readonly<Record<Colours['matrix'], string>> = {
  bt709: 'bt709',
  smpte170m: 'bt601',
  bt470bg: 'bt601',
  bt2020nc: 'bt2020',
};

/** Encoder options that say it. */
export function colourTags(video: Seen): string[] {
  const { matrix, primaries, transfer } = coloursOf(video);
  return ['-colorspace', matrix, '-color_primaries', primaries, '-color_trc', transfer];
}

/** The same said of the pictures themselves: some encoders ask those. `setparams` says gamma curves in other words. */
export function colouredPictures(video: Seen): string {
  const { matrix, primaries, transfer } = coloursOf(video);
  const read = Object.entries(SAID_OTHERWISE).find(([, written]) => written === transfer)?.[0] ?? transfer;
  return `setparams=colorspace=${matrix}:color_primaries=${primaries}:color_trc=${read}`;
}

/** What the scaler must be told where it makes luma of red, green and blue; empty for what is luma already. */
export function scalerColours(video: Seen): string {
  return isRgb(video) ? `:out_color_matrix=${SCALER_MATRIX[coloursOf(video).matrix]}` : '';
}

/** For a JPEG, which is read after BT.601 always (JFIF, ITU-T T.871). */
export function jpegColours(video: Seen): string {
  const own = SCALER_MATRIX[coloursOf(video).matrix];
  return isRgb(video) || own === 'bt601' ? '' : `:in_color_matrix=${own}:out_color_matrix=bt601`;
}
