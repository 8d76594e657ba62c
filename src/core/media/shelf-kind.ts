/** What kind of storage a shelf is, which sets what plans may do on it; and what people note of it. */

export const SHELF_KINDS = ['working', 'server', 'card', 'travel', 'archive', 'tape'] as const;
export type ShelfKind = (typeof SHELF_KINDS)[number];

interface KindTraits {
  readonly word: string;
  /** With its article: "a camera card". */
  readonly called: string;
  /** What follows from it, for the user. */
  readonly follows: string;
  /** Whether plans may put files there. */
  readonly takesFiles: boolean;
  /** Whether plans may move, rename or remove what is there. */
  readonly letsGo: boolean;
  /** Whether a copy there counts as one that is kept. */
  readonly keeps: boolean;
}

export const KIND_TRAITS: Readonly<Record<ShelfKind, KindTraits>> = {
  working: { word: 'Working drive', called: 'a working drive', follows: 'Plans may add, move, rename and remove files.', takesFiles: true, letsGo: true, keeps: true }, // prettier-ignore
  server: { word: 'Server', called: 'a server', follows: 'Plans may add, move, rename and remove files.', takesFiles: true, letsGo: true, keeps: true }, // prettier-ignore
  card: { word: 'Camera card', called: 'a camera card', follows: 'Plans copy from it. They never move, remove or write files. A copy here does not count as safe.', takesFiles: false, letsGo: false, keeps: false }, // prettier-ignore
  travel: { word: 'Travel drive', called: 'a travel drive', follows: 'Plans warn before it becomes the only place of a file.', takesFiles: true, letsGo: true, keeps: true }, // prettier-ignore
  archive: { word: 'Archive', called: 'an archive', follows: 'Plans may add files. They never move, rename or remove them.', takesFiles: true, letsGo: false, keeps: true }, // prettier-ignore
  tape: { word: 'Tape', called: 'a tape', follows: 'Plans may add files. They never move, rename or remove them.', takesFiles: true, letsGo: false, keeps: true }, // prettier-ignore
};

export const RESILIENCES = ['single', 'mirror', 'array'] as const;
export type Resilience = (typeof RESILIENCES)[number];

/** What people note of a shelf; texts are empty where nothing is known. */
export interface ShelfRecord {
  readonly owner: string;
  readonly keptAt: string;
  readonly serial: string;
  readonly price: string;
  /** Several disks that are one: a mirror or an array counts as one copy. */
  readonly resilience: Resilience;
  readonly notes: string;
}

export const NO_RECORD: ShelfRecord = { owner: '', keptAt: '', serial: '', price: '', resilience: 'single', notes: '' };
