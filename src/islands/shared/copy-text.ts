/** Puts a text on the clipboard. Browsers allow the newer way only over https and on the machine itself; the older one works everywhere. */
export async function copyText(text: string): Promise<boolean> {
  if (window.isSecureContext) {
    try {
      await navigator.clipboard.writeText(text);
      return true;
    } catch {
      // Not allowed, or the page has not the focus.
    }
  }
  const back = document.activeElement as HTMLElement | null;
  const field = document.createElement('textarea');
  field.value = text;
  field.className = 'copied-text';
  document.body.append(field);
  field.select();
  // Deprecated, and the only way on plain http.
  const done = document.execCommand('copy');
  field.remove();
  back?.focus({ preventScroll: true });
  return done;
}
