const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** A text as it may stand in a page, in an attribute too. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => ESCAPES[sign]!);
}

const STYLE = `body{font:15px/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif;margin:2rem auto;max-width:75rem;padding:0 1rem;color:#1f2b2a;background:#fffdf8}
table{border-collapse:collapse;width:100%;margin:.5rem 0 1.5rem}th,td{text-align:left;padding:.25rem .6rem;border-bottom:1px solid #ddd5c5;vertical-align:top;overflow-wrap:anywhere}
code,.m{font-family:"Atkinson Hyperlegible Mono",ui-monospace,monospace;font-size:13px;overflow-wrap:anywhere}.n{text-align:right;white-space:nowrap;font-variant-numeric:tabular-nums}
li{margin:.2rem 0}tr{break-inside:avoid}.two{display:grid;grid-template-columns:1fr 1fr;gap:2rem}@media(max-width:50rem){.two{grid-template-columns:1fr}}
@media print{body{margin:0;max-width:none;background:#fff}}`;

/** A page that stands for itself, to be kept or handed over. `title`: plain text; `body`: HTML, with all texts escaped. */
export function htmlPage(title: string, heading: string, body: string): string {
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeHtml(title)}</title>
<style>
${STYLE}
</style></head><body>
<h1>${escapeHtml(heading)}</h1>
${body}
</body></html>
`;
}
