/** Who may ask: pages of this server only. Keeps other sites in the user's browser out. */
import type { IncomingMessage } from 'node:http';

const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

/** Why a request is refused, or null. Host must be one of ours; unsafe methods must come from our own pages or a script. */
export function refusal(request: IncomingMessage, configuredHost: string): string | null {
  const host = request.headers.host ?? '';
  const name = host.replace(/:\d+$/, '');
  if (configuredHost !== '0.0.0.0' && configuredHost !== '::' && ![...LOOPBACK, configuredHost].includes(name))
    return `This server does not answer for the host "${name}".`;
  if (request.method === 'GET' || request.method === 'HEAD' || request.method === 'OPTIONS') return null;
  const site = request.headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return 'Requests from other sites are refused.';
  const origin = request.headers.origin;
  if (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) return 'Requests from other sites are refused.';
  return null;
}
