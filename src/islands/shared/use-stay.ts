/** What stays as it was left when one goes to another stage and comes back: as long as the page is open. */
import { useState } from 'react';

const left = new Map<string, unknown>();

function keyOf(name: string): string {
  return `${window.location.pathname} ${name}`;
}

/** One thing of the stage one is on now. */
export function leftHere<T>(name: string): { readonly was: T | undefined; readonly keep: (value: T) => void } {
  const key = keyOf(name);
  return { was: left.get(key) as T | undefined, keep: (value) => left.set(key, value) };
}

/** State that stays. `name` is one within its stage. */
export function useStay<T>(name: string, initial: T): [T, (next: T) => void] {
  const [value, set] = useState(() => leftHere<T>(name).was ?? initial);
  return [
    value,
    (next) => {
      leftHere<T>(name).keep(next);
      set(next);
    },
  ];
}
