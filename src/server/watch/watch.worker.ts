/** Watches the shelves in a thread: one that does not answer holds up nothing but this, which is begun anew without it. */
import { parentPort, workerData } from 'node:worker_threads';
import { tellTouchesIn } from '../stock/touching';
import { FolderWatch } from './folder-watch';

/** What is to be watched from now on. */
export type WatchOrder = ReadonlyMap<string, string>;
export type WatchWord = { readonly changed: string } | { readonly lost: string; readonly why: string };

/** So often a shelf is told of at most; new folders are met then too. */
const TELL_MS = 500;

const { touch } = workerData as { readonly touch: SharedArrayBuffer };
tellTouchesIn(touch);
const watched = new Map<string, { readonly root: string; readonly watch: FolderWatch }>();
const tell = (word: WatchWord) => parentPort!.postMessage(word);

function begin(shelfId: string, root: string): void {
  let timer: NodeJS.Timeout | null = null;
  const changed = () => {
    timer ??= setTimeout(() => {
      timer = null;
      if (watched.get(shelfId)?.watch !== watch) return;
      watch.sync();
      tell({ changed: shelfId });
    }, TELL_MS);
  };
  const watch = new FolderWatch(root, changed, (why) => tell({ lost: shelfId, why }));
  watched.set(shelfId, { root, watch });
  watch.sync();
}

parentPort!.on('message', (order: WatchOrder) => {
  for (const [shelfId, { root, watch }] of watched) {
    if (order.get(shelfId) === root) continue;
    watched.delete(shelfId);
    watch.close();
  }
  for (const [shelfId, root] of order) if (!watched.has(shelfId)) begin(shelfId, root);
});
