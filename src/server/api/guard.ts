/** Who may ask, and what: pages of this server only. Keeps other sites in the user's browser out. */
import type { IncomingMessage } from 'node:http';
import { isIP } from 'node:net';
import { Problem } from '../errors/problem';

const LOOPBACK = ['127.0.0.1', 'localhost', '::1'];
const EVERYWHERE = ['0.0.0.0', '::'];
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE'];

/** What the server is called: the address it listens on, and names given for it. */
export interface OwnNames {
  readonly host: string;
  readonly names: readonly string[];
}

/** Why a request is refused before anything looks at it, or null. */
export function refusal(request: IncomingMessage, own: OwnNames): Problem | null {
  return hostRefusal(request.headers.host ?? '', own) ?? addressRefusal(request) ?? siteRefusal(request);
}

/** A name that others may point at this machine is none of ours; an address is safe from that. */
function hostRefusal(host: string, own: OwnNames): Problem | null {
  const name = hostName(host);
  const known = name !== null && ([...LOOPBACK, own.host, ...own.names].includes(name) || (EVERYWHERE.includes(own.host) && isIP(name) !== 0));
  return known ? null : new Problem('refused', `This server does not answer for the host "${(name ?? host).slice(0, 100)}".`);
}

/** The name in a Host header, without port and brackets; null when it is none. */
export function hostName(host: string): string | null {
  if (host === '' || !/^[^/?#@\s]+$/.test(host)) return null;
  try {
    return new URL(`http://${host}`).hostname.replace(/^\[|\]$/g, '').toLowerCase();
  } catch {
    return null;
  }
}

function addressRefusal({ method = '', url = '' }: IncomingMessage): Problem | null {
  if (!METHODS.includes(method))
    return new Problem('bad-method', `${method.slice(0, 20)} is not answered here.`, undefined, { allow: METHODS.join(', ') });
  const path = url.split('?', 1)[0]!;
  const plain = decoded(path);
  if (!path.startsWith('/') || plain === null || plain.includes('\0'))
    return new Problem('bad-address', 'The address of the request holds what is no text.');
  // Made by the framework for pictures of pages; there are none.
  if (/^\/+(?:_image|_server-islands)\b/.test(plain)) return new Problem('not-found', 'There is nothing at this address.');
  if (!isInterface(plain) && method !== 'GET' && method !== 'HEAD')
    return new Problem('bad-method', `A page is not answered to ${method}.`, undefined, { allow: 'GET, HEAD' });
  return null;
}

/** However it is written: some of it percent-encoded, strokes doubled. */
function isInterface(path: string): boolean {
  return /^\/+api\//i.test(path);
}

function decoded(path: string): string | null {
  try {
    return decodeURIComponent(path);
  } catch {
    return null;
  }
}

/** The interface is asked for by our own pages or by scripts; pages themselves may be linked to. */
function siteRefusal({ method = '', url = '', headers }: IncomingMessage): Problem | null {
  const isPage = (method === 'GET' || method === 'HEAD') && !isInterface(decoded(url.split('?', 1)[0]!) ?? '');
  if (isPage) return null;
  const others = new Problem('refused', 'Requests from other sites are refused.');
  const site = headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return others;
  const { origin, host } = headers;
  return origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}` ? others : null;
}
