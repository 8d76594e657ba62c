/** One line of news for all tabs of a browser: a host answers six connections at a time, and each line takes one. */
import { openLine, type LineNews } from './line';

interface Scope {
  onconnect: (event: MessageEvent) => void;
}

const ports = new Set<MessagePort>();
let stands: LineNews | null = null;

openLine((news) => {
  if (news.is !== 'event') stands = news;
  else if (news.name !== 'stocktake') stands = stands?.is === 'open' ? { is: 'open', changedAt: Date.now() } : stands;
  for (const port of ports) port.postMessage(news);
});

(self as unknown as Scope).onconnect = ({ ports: [port] }) => {
  if (!port) return;
  port.onmessage = ({ data }: MessageEvent<'join' | 'leave'>) => {
    if (data === 'leave') return void ports.delete(port);
    ports.add(port);
    if (stands) port.postMessage(stands);
  };
};
