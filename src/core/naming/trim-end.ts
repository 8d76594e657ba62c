/** `text` without the signs at its end that `drops`: in time with what is dropped, which an expression is not. */
export function trimEndOf(text: string, drops: RegExp): string {
  let end = text.length;
  while (end > 0 && drops.test(text[end - 1]!)) end--;
  return text.slice(0, end);
}
