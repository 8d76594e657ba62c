/** The frame around every handler: validates what comes in, answers JSON, turns errors into problem details. */
import type { APIContext, APIRoute } from 'astro';
import type Joi from 'joi';
import { house, type House } from '../house';
import { isReadyJson } from '../ready-json';
import { asProblem, Problem, problemResponse } from './problem';

export const LARGEST_BODY_BYTES = 128 * 1024 * 1024;

export interface Call<Body> {
  readonly house: House;
  readonly params: Record<string, string>;
  readonly query: URLSearchParams;
  readonly body: Body;
  readonly request: Request;
}

type Handler<Body> = (call: Call<Body>) => unknown;

/** A handler without a body. What it returns is sent as JSON; a Response goes out as it is; nothing is 204. */
export function endpoint(handler: Handler<null>): APIRoute {
  return (context) => answer(context, () => Promise.resolve(null), handler);
}

/** A handler with a JSON body that must match the schema. */
export function endpointWithBody<Body>(schema: Joi.Schema<Body> | Joi.AlternativesSchema<Body>, handler: Handler<Body>): APIRoute {
  return (context) => answer(context, () => readBody(context.request, schema), handler);
}

async function answer<Body>(context: APIContext, body: () => Promise<Body>, handler: Handler<Body>): Promise<Response> {
  try {
    const params = Object.fromEntries(Object.entries(context.params).filter((entry): entry is [string, string] => entry[1] !== undefined));
    const result = await handler({ house: house(), params, query: context.url.searchParams, body: await body(), request: context.request });
    if (result instanceof Response) return result;
    if (result === undefined) return new Response(null, { status: 204 });
    return new Response(isReadyJson(result) ? result.json : JSON.stringify(result), {
      headers: { 'content-type': 'application/json', 'cache-control': 'no-store' },
    });
  } catch (error) {
    return problemResponse(asProblem(error));
  }
}

async function readBody<Body>(request: Request, schema: Joi.Schema<Body> | Joi.AlternativesSchema<Body>): Promise<Body> {
  const text = await limitedText(request);
  let parsed: unknown;
  try {
    parsed = JSON.parse(text === '' ? '{}' : text);
  } catch {
    throw new Problem(400, 'bad-json', 'The body of the request is not JSON.');
  }
  const result = schema.validate(parsed, { convert: false });
  if (result.error) throw new Problem(400, 'bad-body', result.error.message, 'See docs/api.md for the form of this request.');
  return result.value;
}

/** The body as text; refuses it as soon as it grows too large. */
async function limitedText(request: Request): Promise<string> {
  if (!request.body) return '';
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of request.body as unknown as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    if (bytes > LARGEST_BODY_BYTES) throw new Problem(413, 'too-large', `The body is larger than ${LARGEST_BODY_BYTES} bytes.`);
    pieces.push(piece);
  }
  return Buffer.concat(pieces).toString('utf8');
}
