import { openLine, type LineNews } from './line';

/** Hears the news: over the one line of all tabs, or one of its own where the browser has no shared workers. Answers how to stop. */
export function joinLine(hear: (news: LineNews) => void): () => void {
  if (typeof SharedWorker === 'undefined') return openLine(hear);
  const worker = new SharedWorker(new URL('./line-worker.ts', import.meta.url), { type: 'module', name: 'mill-shelf news' });
  const { port } = worker;
  // Where it cannot be had the page has a line of its own.
  let close = () => {};
  worker.addEventListener('error', () => (close = openLine(hear)), { once: true });
  port.onmessage = ({ data }: MessageEvent<LineNews>) => hear(data);
  const join = () => port.postMessage('join');
  const leave = () => port.postMessage('leave');
  // A page that is kept for the way back hears nothing, and asks anew when it is shown again.
  const back = (event: PageTransitionEvent) => event.persisted && join();
  window.addEventListener('pagehide', leave);
  window.addEventListener('pageshow', back);
  join();
  return () => {
    window.removeEventListener('pagehide', leave);
    window.removeEventListener('pageshow', back);
    leave();
    close();
  };
}
