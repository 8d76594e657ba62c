/** Bytes of a text as UTF-8, without making them; a lone surrogate counts as the sign that stands for it (3 bytes). */
export function utf8Length(text: string): number {
  let bytes = text.length;
  for (let index = 0; index < text.length; index++) {
    const unit = text.charCodeAt(index);
    if (unit <= 0x7f) continue;
    const isPair = unit >= 0xd800 && unit <= 0xdbff && text.charCodeAt(index + 1) >= 0xdc00 && text.charCodeAt(index + 1) <= 0xdfff;
    if (isPair) index++;
    bytes += unit <= 0x7ff ? 1 : 2;
  }
  return bytes;
}

/** Whether every sign of a text is one of ASCII. */
export function isAscii(text: string): boolean {
  return !/[^\u0000-\u007f]/.test(text);
}
