/** A value outside of the tree that components follow. */
import { useSyncExternalStore } from 'react';

export class Store<T> {
  private readonly followers = new Set<() => void>();

  constructor(private value: T) {}

  readonly get = (): T => this.value;

  set(next: T): void {
    if (next === this.value) return;
    this.value = next;
    for (const follower of this.followers) follower();
  }

  readonly follow = (follower: () => void): (() => void) => {
    this.followers.add(follower);
    return () => this.followers.delete(follower);
  };
}

export function useStore<T>(store: Store<T>): T {
  return useSyncExternalStore(store.follow, store.get);
}
