/**
 * Whether pictures and sound of a copy are those of its source, at their own places. A dark or flat picture proves nothing, nor
 * does one that does not move: it looks like its neighbours as well.
 */

/** Grey levels, row by row, of a picture made small. */
export type SmallPicture = Uint8Array;

/** `elsewhere`: it fits another frame better; `another`: none of them; `untold`: nothing tells it from its neighbours. */
export type PictureVerdict = { readonly is: 'here' | 'another' | 'untold' } | { readonly is: 'elsewhere'; readonly by: number };

/** Standard deviation of grey levels below which there is nothing to see, and from which a picture surely can be told (of 255; tried on noise at high compression). */
const FLAT = 2.5;
const PLAIN = 8;
/** Correlation below which pictures are others, whatever was done to their colours and written into them. */
const LEAST_ALIKE = 0.3;
/**
 * What is not alike must be so many times less in one place than in another, and by no less than that, before it tells anything:
 * noise, and what a small copy cannot hold, make all places a little unlike (tried on both, and on slow movement).
 */
const TELLING = { times: 1.3, least: 0.0004 };

/** `around`: frames of the source, that at `own` being the one that the picture should be. */
export function placeOf(picture: SmallPicture, around: readonly SmallPicture[], own: number): PictureVerdict {
  const source = around[own]!;
  const [contrast, found] = [deviation(source), deviation(picture)];
  if (contrast < FLAT || (found < FLAT && contrast < PLAIN)) return { is: 'untold' };
  const alike = around.map((frame) => alikeness(picture, frame));
  const best = alike.indexOf(Math.max(...alike));
  if (alike[best]! < LEAST_ALIKE) return { is: contrast < PLAIN ? 'untold' : 'another' };
  if (best !== own) return isTelling(alike[best]!, alike[own]!) ? { is: 'elsewhere', by: best - own } : { is: 'untold' };
  const next = Math.max(-1, ...alike.filter((_, index) => index !== own));
  return { is: isTelling(alike[own]!, next) ? 'here' : 'untold' };
}

function isTelling(better: number, worse: number): boolean {
  return better - worse >= TELLING.least && 1 - worse >= TELLING.times * (1 - better);
}

/** The share of a picture, from above or below, that letters may take. */
const LETTERED = 0.2;

/** Correlation of all of it, or without its upper or lower part where letters may stand. */
function alikeness(a: SmallPicture, b: SmallPicture): number {
  const part = Math.round(a.length * LETTERED);
  return Math.max(
    correlation(a, b),
    correlation(a.subarray(part), b.subarray(part)),
    correlation(a.subarray(0, a.length - part), b.subarray(0, b.length - part)),
  );
}

/** Loudness of one channel over time, in decibels a block. */
export type Envelope = readonly number[];

/** Decibels by which sound must rise and fall to be told by it. */
const EVEN = 1.5;
const LEAST_ALIKE_SOUND = 0.6;
const TELLING_SOUND = 0.1;
/** Blocks by which the sound of a copy may come earlier or later: encoders put some of their own before it. */
const LAGS = [0, 1, -1, 2, -2, 3, -3];

/** What is wrong with the channels of a copy, in words; null where they fit as far as they tell. Both have the same count. */
export function soundAgainst(source: readonly Envelope[], copy: readonly Envelope[]): string | null {
  for (const [index, own] of source.entries()) {
    const found = copy[index];
    if (!found || deviation(own) < EVEN) continue;
    const alike = soundsAlike(own, found);
    if (alike >= LEAST_ALIKE_SOUND) {
      // Alike, and another channel still more.
      const other = bestOf(source, found, index);
      if (other !== null && other.alike - alike >= TELLING_SOUND) return `channel ${index + 1} is channel ${other.index + 1} of its source`;
      continue;
    }
    const other = bestOf(source, found, index);
    if (other !== null && other.alike >= LEAST_ALIKE_SOUND) return `channel ${index + 1} is channel ${other.index + 1} of its source`;
    return `channel ${index + 1} does not sound like that of its source`;
  }
  return null;
}

function bestOf(source: readonly Envelope[], found: Envelope, but: number): { index: number; alike: number } | null {
  return source.reduce<{ index: number; alike: number } | null>((best, own, index) => {
    const alike = index === but || deviation(own) < EVEN ? -1 : soundsAlike(own, found);
    return alike > (best?.alike ?? -1) ? { index, alike } : best;
  }, null);
}

function soundsAlike(own: Envelope, found: Envelope): number {
  return Math.max(...LAGS.map((lag) => (lag < 0 ? correlation(own.slice(-lag), found) : correlation(own, found.slice(lag)))));
}

type Values = ArrayLike<number>;

function mean(values: Values): number {
  let sum = 0;
  for (let at = 0; at < values.length; at++) sum += values[at]!;
  return sum / values.length;
}

function deviation(values: Values): number {
  const middle = mean(values);
  let sum = 0;
  for (let at = 0; at < values.length; at++) sum += (values[at]! - middle) ** 2;
  return Math.sqrt(sum / values.length);
}

/** Pearson's correlation coefficient; 0 where one of them does not vary. */
function correlation(a: Values, b: Values): number {
  const length = Math.min(a.length, b.length);
  let [sumA, sumB] = [0, 0];
  for (let at = 0; at < length; at++) [sumA, sumB] = [sumA + a[at]!, sumB + b[at]!];
  const [meanA, meanB] = [sumA / length, sumB / length];
  let [both, ofA, ofB] = [0, 0, 0];
  for (let at = 0; at < length; at++) {
    const [x, y] = [a[at]! - meanA, b[at]! - meanB];
    both += x * y;
    ofA += x * x;
    ofB += y * y;
  }
  return ofA === 0 || ofB === 0 ? 0 : both / Math.sqrt(ofA * ofB);
}
