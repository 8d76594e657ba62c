/** The frame around every handler: validates what comes in, answers JSON, turns errors into problem details. */
import type Joi from 'joi';
import { gaugeOf } from '../../core/interchange/json-gauge';
import { whenFree } from '../catalogue/when-free';
import { asProblem } from '../errors/as-problem';
import { Problem, problemResponse } from '../errors/problem';
import { house, type House } from '../house';
import { log } from '../log/log';
import { isReadyJson, type ReadyJson } from '../questions/ready-json';
import { THIS_MACHINE } from '../runs/actor';
import { BodyPieces } from '../uploads/body-pieces';
import type { Actor } from '../usecases/use-case';
import { heldBack, readerAddress } from './held-back';

export const LARGEST_BODY_BYTES = 1024 * 1024;
/** Of bodies that may name every clip of a large project. */
export const LARGEST_LIST_BYTES = 4 * 1024 * 1024;
/** Objects and lists within each other. */
export const DEEPEST_BODY = 32;

const MOST_WAIT_MS = 10_000;
const BUSY_PAUSE_MS = 50;
/** What takes longer is noted in the log. */
const SLOW_MS = 1_000;

/** What comes in with a request, as far as it is no body. */
export interface Incoming {
  readonly params: Readonly<Record<string, string>>;
  readonly url: URL;
  readonly request: Request;
}

export interface Call<Body> {
  readonly house: House;
  /** On whose word it is done. */
  readonly actor: Actor;
  readonly params: Readonly<Record<string, string>>;
  readonly query: URLSearchParams;
  readonly body: Body;
  readonly request: Request;
  /** Address of whoever asks; "elsewhere" where another server stands between. */
  readonly from: string;
}

type AnySchema<Body> = Joi.Schema<Body> | Joi.AlternativesSchema<Body>;

/** What is sent of what a handler returns. */
type Sent<Out> = Out extends ReadyJson<infer T> ? T : Out extends undefined | void ? undefined : Out;

/** One address and method: what may come in, and what goes out. */
export interface Endpoint<Body, Out> {
  readonly answer: (incoming: Incoming) => Promise<Response>;
  /** Only said, never there: the client's types follow from it. */
  readonly of?: { readonly body: Body; readonly out: Out };
}

/** Without a body. What the handler returns is sent as JSON; a Response goes out as it is; nothing is 204. */
export function endpoint<Out>(handler: (call: Call<null>) => Out): Endpoint<null, Sent<Awaited<Out>>> {
  return { answer: (incoming) => answer(incoming, () => Promise.resolve(null), handler) };
}

/** With a JSON body that must match the schema. */
export function endpointWithBody<Body, Out>(
  schema: AnySchema<Body>,
  handler: (call: Call<Body>) => Out,
  mostBytes = LARGEST_BODY_BYTES,
): Endpoint<Body, Sent<Awaited<Out>>> {
  return { answer: (incoming) => answer(incoming, () => readBody(incoming.request, schema, mostBytes), handler) };
}

async function answer<Body>(
  { params, url, request }: Incoming,
  body: () => Promise<Body>,
  handler: (call: Call<Body>) => unknown,
): Promise<Response> {
  const began = Date.now();
  try {
    const call = { house: house(), actor: THIS_MACHINE, params, query: url.searchParams, body: await body(), request, from: askedFrom(request) };
    const result = await whenFree(() => handler(call), { mostMs: MOST_WAIT_MS, pauseMs: BUSY_PAUSE_MS, may: unchanged(call.house) });
    if (result instanceof Response) return result;
    if (result === undefined) return new Response(null, { status: 204 });
    return new Response(heldBack(isReadyJson(result) ? result.json : JSON.stringify(result)), {
      headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
    });
  } catch (error) {
    return problemResponse(asProblem(error));
  } finally {
    const ms = Date.now() - began;
    if (ms > SLOW_MS) log.info({ ms, method: request.method, path: url.pathname }, 'a slow answer');
  }
}

/** Who stands behind a server between is not known by the connection, and what a request says of it is anybody's word. */
function askedFrom({ headers }: Request): string {
  return headers.has('x-forwarded-for') || headers.has('forwarded') ? 'elsewhere' : readerAddress();
}

/** A catalogue that another thread writes to is waited for, as long as nothing was changed yet. */
function unchanged({ catalogue }: House): () => boolean {
  const before = catalogue.changes;
  return () => catalogue.changes === before;
}

async function readBody<Body>(request: Request, schema: AnySchema<Body>, mostBytes: number): Promise<Body> {
  const text = await limitedText(request, mostBytes);
  if (gaugeOf(text, DEEPEST_BODY).isTooDeep) throw new Problem('too-deep', `The body is nested more than ${DEEPEST_BODY} levels deep.`);
  let parsed: unknown;
  try {
    parsed = JSON.parse(text === '' ? '{}' : text);
  } catch {
    throw new Problem('bad-json', 'The body of the request is not JSON.');
  }
  const result = schema.validate(parsed, { convert: false });
  if (result.error) throw new Problem('bad-body', result.error.message.slice(0, 500), 'See docs/api.md for the form of this request.');
  return result.value;
}

/** The body as text; refuses it as soon as it grows too large, before it comes where it says so. */
async function limitedText(request: Request, mostBytes: number): Promise<string> {
  const refuse = () => {
    const hint = 'Take fewer at once. (A file goes to POST /api/uploads first, and is named by its upload.)';
    return new Problem('too-large', `The body is larger than ${mostBytes} bytes.`, hint);
  };
  if (!request.body) return '';
  const body = new BodyPieces(request.body);
  const pieces: Uint8Array[] = [];
  let bytes = Number(request.headers.get('content-length') ?? 0) > mostBytes ? Infinity : 0;
  if (bytes <= mostBytes)
    for await (const piece of body) {
      bytes += piece.length;
      if (bytes > mostBytes) break;
      pieces.push(piece);
    }
  if (bytes <= mostBytes) return Buffer.concat(pieces).toString('utf8');
  void body.discardRest();
  throw refuse();
}
