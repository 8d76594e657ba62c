const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** HTML in which all that came from outside is escaped. Only `markup` makes it. */
export class Html {
  constructor(readonly text: string) {}
}

type Value = Html | string | number | readonly Html[];

/** A piece of a page: texts are escaped, in attributes too; pieces and lists of them are not once more. */
export function markup(pieces: TemplateStringsArray, ...values: readonly Value[]): Html {
  return new Html(pieces.map((piece, index) => piece + textOf(values[index] ?? '')).join(''));
}

function textOf(value: Value): string {
  if (value instanceof Html) return value.text;
  if (typeof value === 'object') return value.map(({ text }) => text).join('\n');
  return String(value).replace(/[&<>"']/g, (sign) => ESCAPES[sign]!);
}

const STYLE = `body{font:15px/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif;margin:2rem auto;max-width:75rem;padding:0 1rem;color:#1f2b2a;background:#fffdf8}
table{border-collapse:collapse;width:100%;margin:.5rem 0 1.5rem}th,td{text-align:left;padding:.25rem .6rem;border-bottom:1px solid #ddd5c5;vertical-align:top;overflow-wrap:anywhere}
code,.m{font-family:"Atkinson Hyperlegible Mono",ui-monospace,monospace;font-size:13px;overflow-wrap:anywhere}.n{text-align:right;white-space:nowrap;font-variant-numeric:tabular-nums}
li{margin:.2rem 0}tr{break-inside:avoid}.two{display:grid;grid-template-columns:1fr 1fr;gap:2rem}@media(max-width:50rem){.two{grid-template-columns:1fr}}
@media print{body{margin:0;max-width:none;background:#fff}}`;

/** A page that stands for itself, to be kept or handed over. */
export function htmlPage(title: string, heading: string, body: Html): string {
  return markup`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${title}</title>
<style>
${new Html(STYLE)}
</style></head><body>
<h1>${heading}</h1>
${body}
</body></html>
`.text;
}
