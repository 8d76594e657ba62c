import { Button, Modal, type ModalProps } from '@mantine/core';
import { useLayoutEffect, useState } from 'react';

/** Where the keyboard was: beside what is about to go, its opener. */
function handNow(): HTMLElement | null {
  const hand = document.activeElement as HTMLElement | null;
  const menu = hand?.closest('[role=menu]');
  return menu ? document.getElementById(menu.getAttribute('aria-labelledby') ?? '') : hand;
}

/** What had the keyboard has gone. */
export function handIsFree(): boolean {
  return document.activeElement === null || document.activeElement === document.body;
}

/** Gives the keyboard to an element, or to the list of the page where it is there no more. */
export function giveHand(element: HTMLElement | null): void {
  const to = element?.isConnected && element !== document.body ? element : document.querySelector<HTMLElement>('[data-list]');
  to?.focus({ preventScroll: true });
}

/** What closes as the dialog opens, a menu, gives the keyboard to the page behind a little later, or to nobody. */
const SETTLES_MS = [40, 150, 400];

/** Keeps the keyboard out of the page behind while a dialog is open. Answers how to stop. */
function keepHand(): () => void {
  const take = () => {
    const dialog = [...document.querySelectorAll<HTMLElement>('section[role=dialog]')].at(-1);
    const at = document.activeElement;
    if (!dialog || !(handIsFree() || at?.closest('.frame, .projects-page'))) return;
    const first =
      dialog.querySelector<HTMLElement>('[data-autofocus]') ?? dialog.querySelector<HTMLElement>('input, textarea, button:not([data-close])');
    (first ?? dialog).focus();
  };
  const timers = SETTLES_MS.map((ms) => setTimeout(take, ms));
  document.addEventListener('focusin', take);
  return () => (timers.forEach(clearTimeout), document.removeEventListener('focusin', take));
}

/** One may open another: the hand is given back by the last. */
let openDialogs = 0;

/** A sheet over the page: it takes the keyboard, keeps it, and gives it back to where it was, however it was opened. */
export function Dialog(props: ModalProps) {
  const { opened } = props;
  // Before anything of the dialog is there that takes the keyboard.
  const [was, setWas] = useState<{ readonly opened: boolean; readonly hand: HTMLElement | null }>({ opened: false, hand: null });
  if (was.opened !== opened) setWas({ opened, hand: opened ? handNow() : was.hand });
  const { hand } = was;
  useLayoutEffect(() => {
    if (!opened) return undefined;
    const stop = keepHand();
    openDialogs++;
    // After what closes has let go of the keyboard.
    return () => {
      stop();
      openDialogs--;
      setTimeout(() => openDialogs > 0 || giveHand(hand), 20);
    };
  }, [opened]);
  return <Modal returnFocus={false} {...props} />;
}

/** Leaves a dialog. The field in hand is not checked before: what is said of it would push the button away from under the press. */
export function CancelButton({ onClick }: { onClick: () => void }) {
  return (
    <Button variant="default" onMouseDown={(event) => event.preventDefault()} onClick={onClick}>
      Cancel
    </Button>
  );
}
