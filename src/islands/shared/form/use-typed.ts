/**
 * A text in a field of its own: Enter and leaving keep it, Escape undoes it. What is being typed stays while everything around
 * it comes anew.
 */
import { useRef, useState, type KeyboardEvent } from 'react';

/** How a field was left. */
export type Left = 'by Enter' | 'by Escape' | 'for another';

interface Draft {
  readonly of: string;
  readonly text: string;
}

interface Options {
  /** What is wrong with a text: it stays, and is not kept. */
  readonly wrong?: (text: string) => string | undefined;
  /** Answers whether it was taken; what was not stays, to be tried again. */
  readonly keep: (text: string, how: Left) => boolean | Promise<boolean>;
  /** Told when it is left as it was. */
  readonly onLeave?: (how: Left) => void;
  /** Enter begins a line; with Ctrl it keeps. */
  readonly isLong?: boolean;
}

/** `of`: whose text it is; `value`: as it is kept now. */
export function useTyped(of: string, value: string, { wrong, keep, onLeave, isLong = false }: Options) {
  const [draft, setDraft] = useState<Draft | null>(null);
  // A field may be left by the very key that changed it, before it is drawn anew.
  const now = useRef<Draft | null>(null);
  const saving = useRef<Draft | null>(null);
  const put = (next: Draft | null) => setDraft((now.current = next));
  const typed = () => (now.current?.of === of ? now.current : null);
  const leave = (how: Left) => {
    const own = typed();
    if (!own || own.text === value || how === 'by Escape') {
      put(null);
      return onLeave?.(how);
    }
    if (wrong?.(own.text) || saving.current === own) return undefined;
    saving.current = own;
    return void Promise.resolve(keep(own.text, how)).then((done) => {
      saving.current = null;
      if (done && now.current === own) put(null);
    });
  };
  const own = draft?.of === of ? draft : null;
  return {
    value: own?.text ?? value,
    error: own ? wrong?.(own.text) : undefined,
    onChange: (event: { currentTarget: { value: string } }) => put({ of, text: event.currentTarget.value }),
    onBlur: () => leave('for another'),
    onKeyDown: (event: KeyboardEvent) => {
      const isUndone = event.key === 'Escape' && (typed() !== null || onLeave !== undefined);
      if (!isUndone && (event.key !== 'Enter' || (isLong && !event.ctrlKey && !event.metaKey))) return;
      // The key was meant for the field, not for what it stands in.
      event.stopPropagation();
      event.preventDefault();
      leave(isUndone ? 'by Escape' : 'by Enter');
    },
  };
}
