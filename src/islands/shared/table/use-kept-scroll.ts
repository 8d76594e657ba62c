/** A list one comes back to stands where it was left. */
import { useLayoutEffect, useRef, type RefObject } from 'react';
import { leftHere } from '../use-stay';

/** What stands around a list may come a little later than its rows, and leave it less room. */
const SETTLES_MS = 1_000;

export function useKeptScroll(body: RefObject<HTMLElement | null>, label: string, isFilled: boolean): void {
  const target = useRef<{ readonly top: number; readonly until: number } | null>(null);
  // Once: a list that is filled anew begins where it begins.
  const isRestored = useRef(false);
  useLayoutEffect(() => {
    const element = body.current;
    if (!isFilled || !element) return;
    const { was, keep } = leftHere<number>(`scroll of ${label}`);
    if (was !== undefined && !isRestored.current) target.current = { top: was, until: performance.now() + SETTLES_MS };
    isRestored.current = true;
    const letGo = () => (target.current = null);
    const ends = new AbortController();
    for (const sign of ['wheel', 'keydown', 'pointerdown']) element.addEventListener(sign, letGo, { signal: ends.signal, passive: true });
    return () => (ends.abort(), keep(element.scrollTop));
  }, [body, label, isFilled]);
  useLayoutEffect(() => {
    const to = target.current;
    if (to === null || !body.current) return;
    if (performance.now() > to.until) target.current = null;
    else if (body.current.scrollTop < to.top) body.current.scrollTop = to.top;
  });
}
