/** The line of news from the server: kept open, opened anew when it is lost, and told when that is so. */

/** What comes over the line, and how it stands. */
export type LineNews =
  /** The line is open. `changedAt`: when something changed last, by the clock of the browser (ms). */
  | { readonly is: 'open'; readonly changedAt: number }
  /** Nothing is heard since then (ms, by the clock of the browser). */
  | { readonly is: 'lost'; readonly since: number }
  | { readonly is: 'event'; readonly name: EventName; readonly data: string };

export const EVENT_NAMES = ['run', 'stocktake', 'changed'] as const;
export type EventName = (typeof EVENT_NAMES)[number];

/** The server beats every 4 s; three beats that do not come are no chance. */
const SILENT_MS = 12_000;
const LOOK_MS = 1_000;
const AGAIN_MS = 2_000;

/** Opens the line for good. Answers how to close it. */
export function openLine(tell: (news: LineNews) => void): () => void {
  let source: EventSource | null = null;
  let heardAt = Date.now();
  let triedAt = 0;
  let stands: 'unknown' | 'open' | 'lost' = 'unknown';
  const lose = () => {
    if (stands !== 'lost') tell({ is: 'lost', since: heardAt });
    stands = 'lost';
  };
  const connect = () => {
    source?.close();
    triedAt = Date.now();
    const own = new EventSource('/api/events');
    source = own;
    const hear = (name: string, then: (data: string) => void) =>
      own.addEventListener(name, (event) => {
        heardAt = Date.now();
        then((event as MessageEvent<string>).data);
      });
    hear('hello', (data) => {
      stands = 'open';
      const { changedAgoMs } = JSON.parse(data) as { changedAgoMs: number };
      tell({ is: 'open', changedAt: Date.now() - changedAgoMs });
    });
    hear('heartbeat', () => undefined);
    for (const name of EVENT_NAMES) hear(name, (data) => tell({ is: 'event', name, data }));
    own.addEventListener('error', lose);
  };
  connect();
  const timer = setInterval(() => {
    const isSilent = Date.now() - Math.max(heardAt, triedAt) > SILENT_MS;
    // One that was refused does not try again by itself.
    const isRefused = source?.readyState === EventSource.CLOSED && Date.now() - triedAt > AGAIN_MS;
    if (isSilent) lose();
    if (isSilent || isRefused) connect();
  }, LOOK_MS);
  return () => (clearInterval(timer), source?.close());
}
