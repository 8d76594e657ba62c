/** Leads to an address: within a project without loading the page anew. */

/** A stage may be gone to as it was left, or as the address says. */
type How = 'as left' | 'as it says';
type Mover = (address: string, how: How) => boolean;
let mover: Mover | null = null;

/** `next` answers whether it leads there itself; null: nobody does. */
export function setMover(next: Mover | null): void {
  mover = next;
}

export function goTo(address: string, how: How = 'as it says'): void {
  if (!mover?.(address, how)) window.location.href = address;
}
