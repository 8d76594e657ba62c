/** Touches folders for the server, one after the other; see looker.ts. A drive that does not answer holds this thread. */
import { statSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { readMarker } from './marker';

const { counts } = workerData as { readonly counts: SharedArrayBuffer };
const words = new Int32Array(counts);

parentPort!.on('message', (folder: string) => {
  Atomics.add(words, 0, 1);
  try {
    statSync(folder, { throwIfNoEntry: false });
    readMarker(folder);
  } catch {
    // An error is an answer.
  }
  Atomics.add(words, 1, 1);
  Atomics.notify(words, 1);
});
