import type { Item } from '../../media/item';

/** Files with the same key are equal in every byte; "" of one that was never read whole. */
export function proofKey({ sizeBytes, sha256 }: Pick<Item, 'sizeBytes' | 'sha256'>): string {
  return sha256 ? `${sizeBytes} ${sha256}` : '';
}
