/** The frame around every handler: validates what comes in, answers JSON, turns errors into problem details. */
import type { APIContext, APIRoute } from 'astro';
import { setTimeout as wait } from 'node:timers/promises';
import type Joi from 'joi';
import { gaugeOf } from '../../core/interchange/json-gauge';
import { isBusy } from '../catalogue/db';
import { heldBack } from '../held-back';
import { house, type House } from '../house';
import { isReadyJson } from '../ready-json';
import { BodyPieces } from './body-pieces';
import { asProblem, Problem, problemResponse } from './problem';

/** Of a file that comes in; see uploads. */
export const LARGEST_FILE_BYTES = 128 * 1024 * 1024;
export const LARGEST_BODY_BYTES = 1024 * 1024;
/** Of bodies that may name every clip of a large project. */
export const LARGEST_LIST_BYTES = 4 * 1024 * 1024;
/** Objects and lists within each other. */
export const DEEPEST_BODY = 32;

const MOST_WAIT_MS = 10_000;
const BUSY_PAUSE_MS = 50;

export interface Call<Body> {
  readonly house: House;
  readonly params: Record<string, string>;
  readonly query: URLSearchParams;
  readonly body: Body;
  readonly request: Request;
}

type AnySchema<Body> = Joi.Schema<Body> | Joi.AlternativesSchema<Body>;
type Handler<Body> = (call: Call<Body>) => unknown;

/** A handler without a body. What it returns is sent as JSON; a Response goes out as it is; nothing is 204. */
export function endpoint(handler: Handler<null>): APIRoute {
  return (context) => answer(context, () => Promise.resolve(null), handler);
}

/** A handler with a JSON body that must match the schema. */
export function endpointWithBody<Body>(schema: AnySchema<Body>, handler: Handler<Body>, mostBytes = LARGEST_BODY_BYTES): APIRoute {
  return (context) => answer(context, () => readBody(context.request, schema, mostBytes), handler);
}

async function answer<Body>(context: APIContext, body: () => Promise<Body>, handler: Handler<Body>): Promise<Response> {
  try {
    const params = Object.fromEntries(Object.entries(context.params).filter((entry): entry is [string, string] => entry[1] !== undefined));
    const call = { house: house(), params, query: context.url.searchParams, body: await body(), request: context.request };
    const result = await whenFree(call.house, () => handler(call));
    if (result instanceof Response) return result;
    if (result === undefined) return new Response(null, { status: 204 });
    return new Response(heldBack(isReadyJson(result) ? result.json : JSON.stringify(result)), {
      headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
    });
  } catch (error) {
    return problemResponse(asProblem(error));
  }
}

/** A catalogue that another thread writes to is waited for, as long as nothing was changed yet. */
async function whenFree<T>({ catalogue }: House, handle: () => T | Promise<T>): Promise<T> {
  const until = Date.now() + MOST_WAIT_MS;
  for (;;) {
    const before = catalogue.changes;
    try {
      return await handle();
    } catch (error) {
      if (!isBusy(error) || Date.now() > until || catalogue.changes !== before) throw error;
      await wait(BUSY_PAUSE_MS);
    }
  }
}

async function readBody<Body>(request: Request, schema: AnySchema<Body>, mostBytes: number): Promise<Body> {
  const text = await limitedText(request, mostBytes);
  if (gaugeOf(text, DEEPEST_BODY).isTooDeep) throw new Problem(400, 'too-deep', `The body is nested more than ${DEEPEST_BODY} levels deep.`);
  let parsed: unknown;
  try {
    parsed = JSON.parse(text === '' ? '{}' : text);
  } catch {
    throw new Problem(400, 'bad-json', 'The body of the request is not JSON.');
  }
  const result = schema.validate(parsed, { convert: false });
  if (result.error) throw new Problem(400, 'bad-body', result.error.message.slice(0, 500), 'See docs/api.md for the form of this request.');
  return result.value;
}

/** The body as text; refuses it as soon as it grows too large, before it comes where it says so. */
async function limitedText(request: Request, mostBytes: number): Promise<string> {
  const refuse = () => {
    const hint = 'Take fewer at once. (A file goes to POST /api/uploads first, and is named by its upload.)';
    return new Problem(413, 'too-large', `The body is larger than ${mostBytes} bytes.`, hint);
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
