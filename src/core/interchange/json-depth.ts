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

export function isTextDeeperThan(text: string, most: number): boolean {
  const gauge = new JsonDepth(most);
  for (let at = 0; at < text.length; at++) if (gauge.isTooDeepAfter(text.charCodeAt(at))) return true;
  return false;
}
