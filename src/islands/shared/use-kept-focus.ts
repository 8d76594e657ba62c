/**
 * The keyboard stays where the hand is: where the control it was on is taken off the page, it goes to what stood beside it,
 * not to the top of the page.
 */
import { useEffect } from 'react';

const FOCUSABLE = 'a[href], button, input, select, textarea, [tabindex]';
/** Dialogs and menus that close give the keyboard back by themselves, a moment later. */
const GIVEN_BACK_MS = 80;

interface Stood {
  readonly node: Element;
  /** What it stood in, the innermost first. */
  readonly around: readonly Element[];
  /** Everything that could have the keyboard, in the order of the page. */
  readonly all: readonly HTMLElement[];
  readonly label: string;
}

function labelOf(node: Element): string {
  return node.getAttribute('aria-label') ?? (node.matches('button, a') ? node.textContent : '');
}

function stood(node: Element): Stood {
  const around: Element[] = [];
  for (let outer = node.parentElement; outer && outer !== document.body; outer = outer.parentElement) around.push(outer);
  return { node, around, all: [...document.querySelectorAll<HTMLElement>(FOCUSABLE)], label: labelOf(node) };
}

function canHold(node: HTMLElement): boolean {
  return node.isConnected && node.tabIndex >= 0 && !node.matches(':disabled') && node.getClientRects().length > 0;
}

/** The same control made anew, else what comes after it, else what stood before it, within what is left of its surroundings. */
function nextTo({ node, around, all, label }: Stood): HTMLElement | null {
  for (const outer of around) {
    if (!outer.isConnected) continue;
    const now = [...outer.querySelectorAll<HTMLElement>(FOCUSABLE)].filter(canHold);
    const again = label === '' ? undefined : now.find((own) => own.tagName === node.tagName && labelOf(own) === label);
    if (again) return again;
    const at = all.indexOf(node as HTMLElement);
    const here = all.map((own, index) => ({ own, index })).filter(({ own }) => outer.contains(own) && canHold(own));
    const next = here.find(({ index }) => index > at) ?? here.findLast(({ index }) => index < at);
    if (next) return next.own;
    if (now[0]) return now[0];
  }
  return null;
}

export function useKeptFocus(): void {
  useEffect(() => {
    let last: Stood | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const isLost = () => document.activeElement === document.body && last !== null && !last.node.isConnected;
    const give = () => {
      const to = isLost() && last ? nextTo(last) : null;
      to?.focus({ preventScroll: true });
    };
    const look = () => {
      clearTimeout(timer);
      if (isLost()) timer = setTimeout(give, GIVEN_BACK_MS);
    };
    const note = (event: FocusEvent) => {
      if (event.target instanceof Element && event.target !== document.body) last = stood(event.target);
    };
    // A click beside everything lets go of the keyboard on purpose: what it was on is still there then.
    const letGo = () =>
      setTimeout(() => {
        if (document.activeElement === document.body && last?.node.isConnected) last = null;
      });
    const changes = new MutationObserver(look);
    changes.observe(document.body, { childList: true, subtree: true });
    document.addEventListener('focusin', note);
    document.addEventListener('focusout', letGo);
    return () => {
      clearTimeout(timer);
      changes.disconnect();
      document.removeEventListener('focusin', note);
      document.removeEventListener('focusout', letGo);
    };
  }, []);
}
