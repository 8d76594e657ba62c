/** One stream of news for a page: runs, stocktakes, changes of the catalogue (server-sent events). */
import type { House, News } from '../house';
import { endpoint } from './endpoint';
import { runSummary } from './runs';

const HEARTBEAT_MS = 15_000;
const PROGRESS_MS = 400;

export const streamNews = endpoint(({ house }) => {
  const encoder = new TextEncoder();
  let close = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (type: string, data: unknown) => controller.enqueue(encoder.encode(`event: ${type}\ndata: ${JSON.stringify(data)}\n\n`));
      const onNews = (news: News) => {
        if (news.type === 'run') sendRun(house, news.id, send);
        else if (news.type === 'stocktake') send('stocktake', house.stocktakes.get(news.shelfId)?.progress ?? null);
        else send('changed', null);
      };
      const progress = setInterval(() => house.runner.liveIds().forEach((id) => sendRun(house, id, send)), PROGRESS_MS);
      const heartbeat = setInterval(() => send('heartbeat', null), HEARTBEAT_MS);
      house.news.on('news', onNews);
      send('hello', null);
      close = () => {
        clearInterval(progress);
        clearInterval(heartbeat);
        house.news.off('news', onNews);
      };
    },
    cancel() {
      close();
    },
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
});

function sendRun(house: House, id: number, send: (type: string, data: unknown) => void): void {
  const run = house.catalogue.runs.get(id);
  if (run) send('run', runSummary(house, run, house.catalogue.runs.steps(id)));
}
