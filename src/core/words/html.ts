const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** A text as it may stand in a page, in an attribute too. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => ESCAPES[sign]!);
}
