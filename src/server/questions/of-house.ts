/** What this house leaves on the shelves for others. */
import { hostname } from 'node:os';
import { KIND_TRAITS } from '../../core/media/shelf-kind';
import { fewFolders, writeHouseNote } from '../stock/house-notes';
import type { QuestionOf } from './question';

/** On every shelf that is plugged in and can be written to: what is read of it here. */
const noteHouse: QuestionOf<object, { readonly noted: number }> = {
  lane: 'look',
  changes: true,
  answer({ catalogue, mounts }) {
    const at = new Date().toISOString();
    let noted = 0;
    for (const { id, kind } of catalogue.shelves.list()) {
      if (!KIND_TRAITS[kind].takesFiles) continue;
      const root = mounts.rootOf(id);
      if (root === null) continue;
      try {
        writeHouseNote(root, { house: catalogue.id, name: hostname(), at, reads: fewFolders(catalogue.holdings.foldersLinked(id)) });
        noted++;
      } catch {
        // It cannot be written to: nobody is told.
      }
    }
    return { noted };
  },
};

export const houseQuestions = { 'note-house': noteHouse };
