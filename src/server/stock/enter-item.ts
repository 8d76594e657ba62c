import { looksSame } from '../../core/media/identity';
import type { Catalogue } from '../catalogue/catalogue';
import type { StoodItem, ReadItem } from './read-item';
import type { FoundFile } from './walk';

/**
 * Writes down what was read of a file. Where the file is as it was and only its fingerprint was made in a newer way,
 * clips that know it by the old one know it by the new one from now on.
 */
export function enterItem(catalogue: Catalogue, read: Exclude<ReadItem, { how: 'known' }>, found: FoundFile, old: StoodItem | null): void {
  const before = old?.item;
  const { item } = read;
  const isRenewed =
    before?.identity && item.identity && before.fingerprint && item.fingerprint && before.fingerprint !== item.fingerprint
      ? looksSame(before.identity, item.identity)
      : false;
  catalogue.transaction(() => {
    catalogue.items.put(item, found.frames, read.isFinal);
    if (isRenewed) catalogue.clips.renewPrint(item.place, before!.fingerprint!, item.fingerprint!);
  });
}
