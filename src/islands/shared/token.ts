/** A value of tokens.css as it is in the scheme in force. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}
