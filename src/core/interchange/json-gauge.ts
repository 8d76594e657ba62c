/**
 * What JSON holds that JSON.parse would stumble over, found before memory is spent on it: nesting deeper than a stack,
 * numbers that a double cannot hold, escapes. Looked at byte by byte, in pieces of any size.
 */
const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const FOUR_BLANKS = 0x20202020;
/** Units of a text that are looked at in one go; small enough to stay near the processor. */
const PIECE_UNITS = 20_000;
/** Digits of a whole number that may be beyond 2^53, of an exponent and of any number that may be beyond 1.8e308. */
const BIG_WHOLE = 16;
const BIG_EXPONENT = 3;
const BIG_ANYWAY = 300;

/** Which part of a number the last sign belonged to. */
const NO_NUMBER = 0;
const WHOLE = 1;
const FRACTION = 2;
const EXPONENT = 3;

/** What a byte outside of texts is: a table is quicker than asking. */
const BLANK = 1;
const TEXT = 2;
const OPENS = 3;
const CLOSES = 4;
const DIGIT = 5;
const KINDS = new Uint8Array(256);
KINDS.fill(BLANK, 0, 0x21);
KINDS.fill(DIGIT, 0x30, 0x3a);
KINDS[QUOTE] = TEXT;
for (const sign of [0x7b, 0x5b]) KINDS[sign] = OPENS;
for (const sign of [0x7d, 0x5d]) KINDS[sign] = CLOSES;

export class JsonGauge {
  /** A number that may be rounded or be beyond all numbers. */
  hasBigNumber = false;
  /** An escape of four hexadecimal digits. */
  hasUnicodeEscape = false;
  private depth = 0;
  private inText = false;
  private escaped = false;
  private part = NO_NUMBER;
  private digits = 0;

  /** @param most objects and lists within each other that are still allowed. */
  constructor(private readonly most: number) {}

  /** Takes the next bytes of UTF-8; true as soon as they are nested too deeply. `bytes` must begin at a multiple of four in its buffer to be fast. */
  isTooDeepAfter(bytes: Uint8Array): boolean {
    const isAligned = bytes.byteOffset % 4 === 0;
    const words = isAligned ? new Int32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2) : null;
    const { length } = bytes;
    const { most } = this;
    let { depth } = this;
    // Either goes on from the piece before.
    let at = this.inText ? this.textEnd(bytes, 0) : this.part !== NO_NUMBER ? this.numberEnd(bytes, 0) : 0;
    while (at < length) {
      switch (KINDS[bytes[at]!]) {
        case BLANK:
          at++;
          // Indentation is most of what a document is written with.
          if (words && (at & 3) === 0) {
            let word = at >> 2;
            while (words[word] === FOUR_BLANKS) word++;
            at = word << 2;
          }
          break;
        case TEXT:
          this.inText = true;
          at = this.textEnd(bytes, at + 1);
          break;
        case OPENS:
          if (++depth > most) return true;
          at++;
          break;
        case CLOSES:
          depth--;
          at++;
          break;
        case DIGIT:
          at = this.numberEnd(bytes, at);
          break;
        default:
          at++;
      }
    }
    this.depth = depth;
    return false;
  }

  /** After the text that `from` is in, or after the last byte; notes whether it goes on there. */
  private textEnd(bytes: Uint8Array, from: number): number {
    const { length } = bytes;
    let at = from;
    if (this.escaped && at < length) {
      this.escaped = false;
      if (bytes[at++] === 0x75) this.hasUnicodeEscape = true;
    }
    for (; at < length; at++) {
      const sign = bytes[at];
      if (sign === QUOTE) {
        this.inText = false;
        return at + 1;
      }
      if (sign !== BACKSLASH) continue;
      if (++at === length) this.escaped = true;
      else if (bytes[at] === 0x75) this.hasUnicodeEscape = true;
    }
    return length;
  }

  /** After the number that `from` is in, or after the last byte; notes whether it goes on there. A minus before the exponent ends it: it is small. */
  private numberEnd(bytes: Uint8Array, from: number): number {
    const { length } = bytes;
    let { part, digits } = this;
    let at = from;
    for (; at < length; at++) {
      const sign = bytes[at]!;
      if (sign >= 0x30 && sign <= 0x39) {
        if (part === NO_NUMBER) part = WHOLE;
        digits++;
        if (digits >= BIG_ANYWAY || (part === EXPONENT && digits >= BIG_EXPONENT)) this.hasBigNumber = true;
      } else if (sign === 0x2e || sign === 0x65 || sign === 0x45) {
        part = sign === 0x2e ? FRACTION : EXPONENT;
        digits = 0;
      } else if (part !== EXPONENT || digits > 0 || sign !== 0x2b) {
        if (part === WHOLE && digits >= BIG_WHOLE) this.hasBigNumber = true;
        part = NO_NUMBER;
        digits = 0;
        break;
      }
    }
    this.part = part;
    this.digits = digits;
    return at;
  }
}

/** The gauge of a whole text, and whether it is nested more than `most` levels deep (the rest is not looked at then). */
export function gaugeOf(text: string, most: number): { isTooDeep: boolean; gauge: JsonGauge } {
  const gauge = new JsonGauge(most);
  const encoder = new TextEncoder();
  const room = new Uint8Array(PIECE_UNITS * 3);
  for (let from = 0; from < text.length; from += PIECE_UNITS) {
    const { written } = encoder.encodeInto(text.slice(from, from + PIECE_UNITS), room);
    if (gauge.isTooDeepAfter(room.subarray(0, written))) return { isTooDeep: true, gauge };
  }
  return { isTooDeep: false, gauge };
}
