/** From an address of the interface to its route. */
import { Problem, problemResponse } from '../errors/problem';
import type { Endpoint, Incoming } from './endpoint';
import { ROUTES } from './routes';

type AnyEndpoint = Endpoint<unknown, unknown>;

interface Known {
  readonly method: string;
  /** Names within an address; those in brackets stand for any. */
  readonly names: readonly string[];
  readonly endpoint: AnyEndpoint;
}

const KNOWN: readonly Known[] = Object.entries<AnyEndpoint>(ROUTES).map(([route, endpoint]) => {
  const [method = '', path = ''] = route.split(' ');
  return { method, names: path.split('/'), endpoint };
});

/** `path`: behind /api/, as it stands in the address. */
export async function answerApi(path: string, { url, request }: Omit<Incoming, 'params'>): Promise<Response> {
  const names = path.split('/').filter((name) => name !== '').map(decoded); // prettier-ignore
  const here = best(KNOWN.filter((known) => fits(known, names)), names); // prettier-ignore
  if (here.length === 0) return problemResponse(new Problem('not-found', 'There is nothing at this address.'));
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const route = here.find((known) => known.method === method);
  if (!route) return refused(request.method, here);
  const response = await route.endpoint.answer({ params: paramsOf(route, names), url, request });
  return request.method === 'HEAD' ? headOf(response) : response;
}

/** What would be sent is not even read. */
function headOf({ body, status, headers }: Response): Response {
  void body?.cancel();
  return new Response(null, { status, headers });
}

function decoded(name: string): string {
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}

function fits(known: Known, names: readonly string[]): boolean {
  return known.names.length === names.length && known.names.every((name, index) => isAny(name) || name === names[index]);
}

function isAny(name: string): boolean {
  return name.startsWith('[');
}

/** A name that stands in the table wins over one that may be any. */
function best(found: readonly Known[], names: readonly string[]): readonly Known[] {
  const weight = (known: Known) => known.names.filter((name, index) => name === names[index]).length;
  const most = Math.max(0, ...found.map(weight));
  return found.filter((known) => weight(known) === most);
}

function paramsOf(known: Known, names: readonly string[]): Record<string, string> {
  return Object.fromEntries(known.names.flatMap((name, index) => (isAny(name) ? [[name.slice(1, -1), names[index]!]] : [])));
}

function refused(method: string, here: readonly Known[]): Response {
  const methods = here.map((known) => known.method);
  const allow = (methods.includes('GET') ? [...methods, 'HEAD'] : methods).join(', ');
  return problemResponse(new Problem('bad-method', `${method} is not answered at this address.`, undefined, { allow }));
}
