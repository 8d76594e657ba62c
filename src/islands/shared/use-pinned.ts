import { useState } from 'react';

/**
 * What one comes to by itself, the first of a list, as it was when it was shown first: what comes before it later does not
 * take its place under the hand. Another one only when it is there no more.
 */
export function usePinned<Key extends string | number>(first: Key | undefined, isThere: (pinned: Key) => boolean): Key | undefined {
  const [pinned, pin] = useState<Key | undefined>(undefined);
  const now = pinned !== undefined && isThere(pinned) ? pinned : first;
  if (now !== pinned) pin(now);
  return now;
}
