/** A file as the answer to a request, or the part of it that is asked for (RFC 9110, section 14). */
import { open } from 'node:fs/promises';
import parseRange from 'range-parser';
import { heldBackFile } from './held-back';
import { Problem } from '../errors/problem';

/** Throws Problem 416 where no part of the file is asked for, and what opening it throws. */
export async function fileAnswer(path: string, type: string, request: Request): Promise<Response> {
  const file = await open(path, 'r');
  let answered = false;
  try {
    const standing = await file.stat();
    if (!standing.isFile()) throw new Problem('no-file', 'A folder stands where the file was.', 'Look for changes on its shelf.');
    const { size, mtimeMs } = standing;
    const etag = `"${size.toString(36)}-${Math.round(mtimeMs).toString(36)}"`;
    const headers = { 'content-type': type, 'accept-ranges': 'bytes', 'cache-control': 'private, no-cache', etag };
    const must = request.headers.get('if-match');
    if (must !== null && !names(must, etag, false)) throw new Problem('changed', 'The file is another by now.', 'Load it anew.');
    const known = request.headers.get('if-none-match');
    if (known !== null && names(known, etag, true)) return new Response(null, { status: 304, headers });
    const part = partOf(request, size, etag);
    const { start, end } = part ?? { start: 0, end: size - 1 };
    const more = { 'content-length': String(end - start + 1), ...(part ? { 'content-range': `bytes ${start}-${end}/${size}` } : {}) };
    const status = part ? 206 : 200;
    if (request.method === 'HEAD' || size === 0) return new Response(null, { status, headers: { ...headers, ...more } });
    answered = true;
    return new Response(heldBackFile(file, start, end), { status, headers: { ...headers, ...more } });
  } finally {
    if (!answered) await file.close();
  }
}

/** Whether a condition names the file (RFC 9110, 8.8.3 and 13.1): any that stands there, or one of a list. `weakly`: also where the tag is called weak. */
function names(condition: string, etag: string, weakly: boolean): boolean {
  if (condition.trim() === '*') return true;
  return condition.split(',').some((tag) => (weakly ? tag.trim().replace(/^W\//, '') : tag.trim()) === etag);
}

/** First and last byte, both inclusive, that are asked for; null for the whole: also of several parts, and of those of a file that is another by now. */
function partOf(request: Request, size: number, etag: string): { start: number; end: number } | null {
  const wanted = request.headers.get('range');
  const only = request.headers.get('if-range');
  if (wanted === null || (only !== null && only !== etag)) return null;
  // More of the end than there is: all of it (RFC 9110, 14.1.2).
  const last = /^bytes=-(\d+)$/.exec(wanted.trim());
  if (last && Number(last[1]) >= size && size > 0) return { start: 0, end: size - 1 };
  const parts = parseRange(size, wanted, { combine: true });
  // What is no range at all does not count.
  if (parts === -2 || (parts !== -1 && parts.type !== 'bytes')) return null;
  if (parts === -1)
    throw new Problem('no-such-part', `The file has ${size} bytes: there is nothing in the part that is asked for.`, undefined, {
      'content-range': `bytes */${size}`,
    });
  return parts.length === 1 ? parts[0]! : null;
}
