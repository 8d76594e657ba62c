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
    const length = bytes.length;
    let depth = this.depth;
    let at = this.inText ? this.textEnd(bytes, 0) + 1 : 0;
    for (; at < length; at++) {
      const sign = bytes[at]!;
      if (this.part !== NO_NUMBER || (sign >= 0x30 && sign <= 0x39)) this.number(sign);
      if (sign <= 0x20) {
        // Indentation is most of what a document is written with.
        if (words && (at & 3) === 3) {
          let word = (at + 1) >> 2;
          while (words[word] === FOUR_BLANKS) word++;
          at = (word << 2) - 1;
        }
      } else if (sign === QUOTE) {
        this.inText = true;
        at = this.textEnd(bytes, at + 1);
      } else if (sign === 0x7b || sign === 0x5b) {
        if (++depth > this.most) return true;
      } else if (sign === 0x7d || sign === 0x5d) depth--;
    }
    this.depth = depth;
    return false;
  }

  /** Where the text ends that `from` is in, or the last byte; notes whether it goes on after it. */
  private textEnd(bytes: Uint8Array, from: number): number {
    let at = from;
    let escaped = this.escaped;
    for (; at < bytes.length; at++) {
      const sign = bytes[at]!;
      if (escaped) {
        escaped = false;
        if (sign === 0x75) this.hasUnicodeEscape = true;
      } else if (sign === BACKSLASH) escaped = true;
      else if (sign === QUOTE) {
        this.inText = false;
        break;
      }
    }
    this.escaped = escaped;
    return at;
  }

  private number(sign: number): void {
    if (sign >= 0x30 && sign <= 0x39) {
      if (this.part === NO_NUMBER) this.part = WHOLE;
      this.digits++;
      if (this.digits >= BIG_ANYWAY || (this.part === EXPONENT && this.digits >= BIG_EXPONENT)) this.hasBigNumber = true;
    } else if (sign === 0x2e) this.nextPart(FRACTION);
    else if (sign === 0x65 || sign === 0x45) this.nextPart(EXPONENT);
    else if (this.part !== EXPONENT || this.digits > 0 || sign !== 0x2b) {
      if (this.part === WHOLE && this.digits >= BIG_WHOLE) this.hasBigNumber = true;
      this.nextPart(NO_NUMBER);
    }
  }

  private nextPart(part: number): void {
    this.part = part;
    this.digits = 0;
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
