/**
 * What JSON holds that JSON.parse would stumble over, found before memory is spent on it: nesting deeper than a stack,
 * numbers that a double cannot hold, escapes. Looked at byte by byte, in pieces of any size.
 */
const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const ZERO = 0x30;
const NINE = 0x39;
const POINT = 0x2e;
const LETTER_E = 0x45;
const FOUR_BLANKS = 0x20202020;
const FOUR_QUOTES = 0x22222222;
const FOUR_BACKSLASHES = 0x5c5c5c5c;
const ONES = 0x01010101;
const HIGH_BITS = 0x80808080;
/** Units of a text that are looked at in one go; small enough to stay near the processor. */
const PIECE_UNITS = 20_000;
/** Digits of a whole number that may be beyond 2^53, of an exponent and of any number that may be beyond 1.8e308. */
const BIG_WHOLE = 16;
const BIG_EXPONENT = 3;
const BIG_ANYWAY = 300;

const NO_WORDS = new Int32Array(0);

/** Which part of a number the last sign belonged to. */
const NO_NUMBER = 0;
const WHOLE = 1;
const FRACTION = 2;
const EXPONENT = 3;

/** Brackets and braces differ in this one bit, capital letters from small ones too. */
const EITHER = 0xdf;
const OPENS = 0x5b;
const CLOSES = 0x5d;

/** Whether one of four bytes is a quotation mark or a backslash: the well-known test for a byte that is zero, of the differences. */
function holdsTextSign(word: number): boolean {
  const fromQuote = word ^ FOUR_QUOTES;
  const fromBackslash = word ^ FOUR_BACKSLASHES;
  return ((((fromQuote - ONES) & ~fromQuote) | ((fromBackslash - ONES) & ~fromBackslash)) & HIGH_BITS) !== 0;
}

/** Where the plain part of a piece ends, how deep it is nested there, and whether a text of it holds a backslash. */
const reached = { at: 0, depth: 0, isTooDeep: false, hasEscape: false };

/**
 * Goes from `from`, which is in no text and no number, over all that is plain: short whole numbers and texts, both with
 * their end in sight. Stops before what is not, and where it is nested more than `most` levels deep.
 */
function overPlain(bytes: Uint8Array, words: Int32Array, from: number, deep: number, most: number): void {
  const { length } = bytes;
  let at = from;
  let depth = deep;
  let hasEscape = false;
  while (at < length) {
    const sign = bytes[at]!;
    if (sign > NINE) {
      at++;
      if ((sign & EITHER) === OPENS) {
        if (++depth > most) break;
      } else if ((sign & EITHER) === CLOSES) depth--;
    } else if (sign === QUOTE) {
      let end = at + 1;
      let inside = 0;
      while (end < length && (inside = bytes[end]!) !== QUOTE) {
        if (inside === BACKSLASH) {
          hasEscape = true;
          end++;
        }
        end++;
        if ((end & 3) !== 0) continue;
        let word = end >> 2;
        while (word < words.length && !holdsTextSign(words[word]!)) word++;
        end = word << 2;
      }
      if (end >= length) break;
      at = end + 1;
    } else if (sign >= ZERO) {
      let end = at + 1;
      while (end < length && bytes[end]! >= ZERO && bytes[end]! <= NINE) end++;
      if (end === length || end - at >= BIG_WHOLE || bytes[end] === POINT || (bytes[end]! & EITHER) === LETTER_E) break;
      at = end;
    } else {
      at++;
      // Indentation is most of what a document is written with.
      if ((at & 3) === 0) {
        let word = at >> 2;
        // Never beyond the end: a read there makes all reads slow from then on.
        while (word < words.length && words[word] === FOUR_BLANKS) word++;
        at = word << 2;
      }
    }
  }
  reached.at = at;
  reached.depth = depth;
  reached.isTooDeep = depth > deep && depth > most;
  reached.hasEscape = hasEscape;
}

export class JsonGauge {
  /** A number that may be rounded or be beyond all numbers. */
  hasBigNumber = false;
  /** A backslash in a text. */
  hasEscape = false;
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
    const words = isAligned ? new Int32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2) : NO_WORDS;
    // Either goes on from the piece before.
    let at = this.inText ? this.textEnd(bytes, 0) : this.part !== NO_NUMBER ? this.numberEnd(bytes, 0) : 0;
    while (at < bytes.length) {
      overPlain(bytes, words, at, this.depth, this.most);
      at = reached.at;
      this.depth = reached.depth;
      this.hasEscape ||= reached.hasEscape;
      if (reached.isTooDeep) return true;
      if (at === bytes.length) break;
      this.inText = bytes[at] === QUOTE;
      at = this.inText ? this.textEnd(bytes, at + 1) : this.numberEnd(bytes, at);
    }
    return false;
  }

  /** After the text that `from` is in, or after the last byte; notes whether it goes on there. */
  private textEnd(bytes: Uint8Array, from: number): number {
    const { length } = bytes;
    let at = from;
    if (this.escaped && at < length) {
      this.escaped = false;
      at++;
    }
    for (; at < length; at++) {
      const sign = bytes[at];
      if (sign === QUOTE) {
        this.inText = false;
        return at + 1;
      }
      if (sign !== BACKSLASH) continue;
      this.hasEscape = true;
      if (++at === length) this.escaped = true;
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
