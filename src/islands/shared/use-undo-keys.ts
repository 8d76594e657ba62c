/** Ctrl Z takes back, Ctrl Shift Z does again; what is being typed is left to its field. */
import { useEffect, useRef } from 'react';

export function useUndoKeys(step: (way: 'undo' | 'redo') => void): void {
  const newest = useRef(step);
  newest.current = step;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest('input, textarea, [role=dialog]') !== null;
      if (typing || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      newest.current(event.shiftKey ? 'redo' : 'undo');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
