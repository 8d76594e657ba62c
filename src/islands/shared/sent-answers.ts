/** Answers that came with the page: each is taken once, by the first who asks. */

/** After so long (ms since the page was asked for) an answer is no news any more. */
const GOOD_FOR_MS = 10_000;

let sent: Map<string, unknown> | null = null;

function read(): Map<string, unknown> {
  const text = typeof document === 'undefined' ? null : document.getElementById('first-answers')?.textContent;
  return new Map(Object.entries(JSON.parse(text ?? '{}') as Record<string, unknown>));
}

/** Undefined where none came. */
export function takeSent(path: string): unknown {
  sent ??= read();
  if (performance.now() > GOOD_FOR_MS) sent.clear();
  const answer = sent.get(path);
  sent.delete(path);
  return answer;
}
