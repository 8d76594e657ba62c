import { describe, expect, it } from 'vitest';
import { htmlPage, markup } from './html';

const HOSTILE = `</title><script>alert("a&b")</script>'`;
const ESCAPED = '&lt;/title&gt;&lt;script&gt;alert(&quot;a&amp;b&quot;)&lt;/script&gt;&#39;';

describe('a page', () => {
  it('has every text escaped once, however deep its piece lies', () => {
    const row = (name: string) => markup`<li title="${name}">${name}</li>`;
    const list = markup`<ul>${[row(HOSTILE), row('Bell')]}</ul>${''}${3}`;
    expect(list.text).toBe(`<ul><li title="${ESCAPED}">${ESCAPED}</li>\n<li title="Bell">Bell</li></ul>3`);
    const page = htmlPage(HOSTILE, HOSTILE, markup`<p>${list}</p>`);
    expect(page).toContain(`<title>${ESCAPED}</title>`);
    expect(page).toContain(`<h1>${ESCAPED}</h1>`);
    expect(page).toContain(`<p>${list.text}</p>`);
    expect(page).not.toContain('<script>');
    // The style of the page is ours, and is not escaped.
    expect(page).toContain('"Atkinson Hyperlegible Next"');
  });
});
