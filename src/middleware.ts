/** Answers of pages and of the interface get what the framework leaves open: a policy for scripts. */
import { createHash } from 'node:crypto';
import { defineMiddleware } from 'astro:middleware';
import { house } from './server/house';

export const onRequest = defineMiddleware(async (context, next) => {
  const isApi = context.url.pathname.startsWith('/api/');
  const { project } = context.params;
  if (!isApi && project !== undefined && !house().catalogue.projects.get(project)) return finished(await context.rewrite('/404'));
  return finished(await next());
});

async function finished(response: Response): Promise<Response> {
  if (!(response.headers.get('content-type') ?? '').startsWith('text/html')) return response;
  const html = await response.text();
  const headers = new Headers(response.headers);
  headers.set('content-security-policy', policyFor(html));
  // A page comes with answers: one that was kept would show them as if they were new.
  headers.set('cache-control', 'no-store');
  return new Response(html, { status: response.status, headers });
}

/** Only scripts of this server and those that stand in the page, each by its content. Styles of the components stand in the page too. */
function policyFor(html: string): string {
  const hashes = inlineScripts(html).map((script) => `'sha256-${createHash('sha256').update(script).digest('base64')}'`);
  return [
    "default-src 'none'",
    `script-src 'self' ${[...new Set(hashes)].join(' ')}`.trim(),
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "media-src 'self'",
    "font-src 'self' data:",
    "connect-src 'self'",
    "manifest-src 'self'",
    "frame-ancestors 'none'",
    "base-uri 'none'",
    "form-action 'self'",
  ].join('; ');
}

function inlineScripts(html: string): string[] {
  const found: string[] = [];
  for (let at = html.indexOf('<script'); at >= 0; at = html.indexOf('<script', at + 1)) {
    const open = html.indexOf('>', at);
    const close = html.indexOf('</script>', open);
    if (open < 0 || close < 0) break;
    // What is not run needs no permission.
    if (!/\ssrc=|type="application\/json"/.test(html.slice(at, open))) found.push(html.slice(open + 1, close));
  }
  return found;
}
