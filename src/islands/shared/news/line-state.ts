/** Since when the server is not heard (ms, by the clock of the browser); null while it is. */
import { Store, useStore } from './store';

export const lostSince = new Store<number | null>(null);

export function useLostSince(): number | null {
  return useStore(lostSince);
}
