/** Keys that work on every page: stages, filter, list, plan button, help. */
import { useEffect } from 'react';
import { goTo } from './go-to';
import { STAGES, stagePath } from './stages';

/** Where a letter may be meant as a letter. */
const TAKES_TEXT =
  'input:not([type=checkbox]):not([type=radio]):not([type=button]):not([type=submit]), textarea, select, [contenteditable=true], [role=textbox], [role=searchbox], [role=combobox]';
const OF_ITS_OWN = '[role=dialog], [role=listbox], [role=menu]';
/** After a letter was typed the next one may still be meant for the text, wherever the keyboard has gone. */
const TYPED_MS = 1_000;

/** When a letter was typed last (ms, by the clock of events): kept while the page around is drawn anew, as it is when what was typed is saved. */
let typedAt = -Infinity;

/** `projectId` null: there are no stages to go to. */
export function useKeys(projectId: string | null, openHelp: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest(TAKES_TEXT)) {
        // Escape and Enter are meant to end the typing.
        if (event.key === 'Escape' || event.key === 'Enter') typedAt = -Infinity;
        else if (event.key.length === 1 || event.key === 'Backspace') typedAt = event.timeStamp;
        return;
      }
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat || event.defaultPrevented || target.closest(OF_ITS_OWN)) return;
      if (event.timeStamp - typedAt < TYPED_MS && event.key.length === 1) {
        typedAt = event.timeStamp;
        return;
      }
      const stage = STAGES.find((entry) => entry.key === event.key);
      if (stage && projectId !== null) goTo(stagePath(projectId, stage.id), 'as left');
      else if (event.key === '?') openHelp();
      else if (event.key === '/') focus('[data-filter] input, input[data-filter]', event);
      else if (event.key === 'l') focus('[data-list]', event);
      else if (event.key === 'p' && document.querySelector('.fold[aria-expanded=false]')) focusUnfolded(event);
      else if (event.key === 'p') focus(document.querySelector('[data-run-plan]:not(:disabled)') ? '[data-run-plan]' : '.sheet button:not(:disabled), .sheet input', event); // prettier-ignore
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [projectId, openHelp]);
}

/** The sheet is opened first where it lies folded. */
function focusUnfolded(event: KeyboardEvent): void {
  event.preventDefault();
  document.querySelector<HTMLElement>('.fold')?.click();
  setTimeout(() => (document.querySelector<HTMLElement>('[data-run-plan]:not(:disabled)') ?? document.querySelector<HTMLElement>('.sheet button, .sheet input'))?.focus(), 50); // prettier-ignore
}

function focus(selector: string, event: KeyboardEvent): void {
  const element = document.querySelector<HTMLElement>(selector);
  if (!element) return;
  event.preventDefault();
  element.focus();
}
