/** What stands before the pages and the interface: refusals, headers of every answer, the line of news, slow readers. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import sirv from 'sirv';
import { NewsDesk } from './news-desk';
import { Problem, problemBody } from '../errors/problem';
import { refusal, type OwnNames } from './guard';
import { answerTo } from './held-back';
import type { House } from '../house';
import { logged } from '../log/log';
import { waitedFor } from '../threads/who-waits';

export type Handler = (request: IncomingMessage, response: ServerResponse) => void;

/** What goes out with every answer. Pages say for themselves which scripts they hold (see middleware). */
const HEADERS: Readonly<Record<string, string>> = {
  'content-security-policy': "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
  'x-content-type-options': 'nosniff',
  'x-frame-options': 'DENY',
  'referrer-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(), geolocation=()',
};
/** A worker of the pages stands under the policy of its own script: it may ask this server. */
const SCRIPT_POLICY = "default-src 'none'; connect-src 'self'";
/** What the pages load: named after what is in it, so that it never has to be asked for again. */
const ASSETS = '/_astro/';
/** How long an answer may lie unread before its reader is let go. */
const STALLED_MS = 60_000;
const LOOK_MS = 5_000;
const YEAR_S = 365 * 24 * 3600;

export function openDoor(house: House, own: OwnNames, handler: Handler): { answer: Handler; close: () => void } {
  const news = new NewsDesk(house);
  const readers = new Readers();
  const assets = sirv(fileURLToPath(new URL('./client/', import.meta.url)), {
    brotli: true,
    gzip: true,
    etag: true,
    immutable: true,
    maxAge: YEAR_S,
  });
  const answer: Handler = (request, response) => {
    for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
    if (/^\/_astro\/[\w.-]+\.js$/.test(request.url ?? '')) response.setHeader('content-security-policy', SCRIPT_POLICY);
    const refused = refusal(request, own);
    if (refused) return tell(response, refused);
    readers.watch(response);
    if (request.url?.startsWith(ASSETS))
      return assets(request, response, () => tell(response, new Problem('not-found', 'There is nothing at this address.')));
    if (request.url?.split('?', 1)[0] !== '/api/events')
      return answerTo(response, () => waitedFor(goneOf(response), () => logged({ request: nextId() }, () => handler(request, response))));
    if (request.method === 'HEAD') return void response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' }).end();
    if (request.method !== 'GET') return tell(response, new Problem('bad-method', 'News can only be read.', undefined, { allow: 'GET, HEAD' }));
    if (!news.open(response)) tell(response, new Problem('busy-news', 'Too many pages are open.'));
  };
  return { answer, close: () => (news.close(), readers.close()) };
}

let requests = 0;
/** By which a request is known in the log. */
function nextId(): string {
  return `r${++requests}`;
}

/** Aborted when whoever asks has gone before the answer. */
function goneOf(response: ServerResponse): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => response.writableFinished || gone.abort());
  return gone.signal;
}

function tell(response: ServerResponse, problem: Problem): void {
  response.writeHead(problem.status, { ...problem.headers, 'content-type': 'application/problem+json', 'cache-control': 'no-store' });
  response.end(problemBody(problem));
}

/** A reader that takes nothing of its answer for long is not waited for; one whose answer is still being made is. */
class Readers {
  private readonly open = new Map<ServerResponse, { taken: number; sinceMs: number }>();
  private readonly timer = setInterval(() => this.look(), LOOK_MS).unref();

  watch(response: ServerResponse): void {
    this.open.set(response, { taken: 0, sinceMs: Date.now() });
    response.once('close', () => this.open.delete(response));
  }

  private look(): void {
    const now = Date.now();
    for (const [response, seen] of this.open) {
      const taken = response.socket?.bytesWritten ?? 0;
      const isBehind = response.writableLength > 0 || (response.socket?.writableLength ?? 0) > 0;
      if (!isBehind || taken !== seen.taken) this.open.set(response, { taken, sinceMs: now });
      else if (now - seen.sinceMs > STALLED_MS) response.destroy();
    }
  }

  close(): void {
    clearInterval(this.timer);
  }
}
