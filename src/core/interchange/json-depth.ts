/** How deep JSON is nested, looked at sign by sign: what is parsed and gone through by recursion must not be deeper than a stack. */
export class JsonDepth {
  private depth = 0;
  private inText = false;
  private escaped = false;

  constructor(private readonly most: number) {}

  /** Takes the next sign (its UTF-16 unit, or a byte of UTF-8); true as soon as it is too deep. */
  isTooDeepAfter(sign: number): boolean {
    if (this.escaped) this.escaped = false;
    else if (this.inText) {
      if (sign === 0x5c) this.escaped = true;
      else if (sign === 0x22) this.inText = false;
    } else if (sign === 0x22) this.inText = true;
    else if (sign === 0x7b || sign === 0x5b) return ++this.depth > this.most;
    else if (sign === 0x7d || sign === 0x5d) this.depth--;
    return false;
  }
}

/** The same of a whole text: in one loop, as it takes as long as parsing it. */
export function isTextDeeperThan(text: string, most: number): boolean {
  const length = text.length;
  let depth = 0;
  for (let at = 0; at < length; at++) {
    const sign = text.charCodeAt(at);
    if (sign <= 0x20) continue;
    if (sign === 0x22) at = endOfText(text, at + 1);
    else if (sign === 0x7b || sign === 0x5b) {
      if (++depth > most) return true;
    } else if (sign === 0x7d || sign === 0x5d) depth--;
  }
  return false;
}

/** Where the quotation mark stands that ends a text; the end of all where none does. */
function endOfText(text: string, from: number): number {
  let at = from;
  for (; at < text.length; at++) {
    const sign = text.charCodeAt(at);
    if (sign === 0x22) return at;
    if (sign === 0x5c) at++;
  }
  return at;
}
