/** What is known of a format of archives. A new one is a folder with one of these, and a line in the table (archive-formats.ts). */

/** A file of an archive, by its path below the root, with `/`. */
export interface ArchivedFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
}

/** What an archive says of itself. */
export interface ArchiveAbout {
  readonly name: string;
  readonly description: string;
  /** Day, as 2026-05-04. */
  readonly madeAt: string;
  readonly projectName: string;
  /** In usual notation: "29.97". */
  readonly rate: string;
  readonly dropFrame: boolean;
  /** Further words, by their names. */
  readonly more: readonly (readonly [string, string])[];
}

/** A text that tells of the archive, made of what was written before it. */
export interface ArchiveList {
  /** Name in plans and journals. */
  readonly what: string;
  readonly path: string;
  /** Lists of one phase are written side by side; a phase begins when the one before it is over. The first is 0. */
  readonly phase: number;
  /** What it is for, in words. */
  readonly reason: string;
  /** Whether it grows with the files that it lists. */
  readonly listsFiles: boolean;
  readonly text: (files: readonly ArchivedFile[], about: ArchiveAbout, sha256Of: (text: string) => string) => string;
}

export interface ArchiveEntry {
  readonly checksum: string;
  readonly path: string;
  /** The path as written, if decoding changed it: older writers leave percent signs undecoded. */
  readonly literal?: string;
}

/** What an archive says of itself and its files, as it was read. */
export interface ArchiveRead {
  readonly entries: readonly ArchiveEntry[];
  /** Lines that are none, counted from 1. */
  readonly badLines: readonly number[];
  /** What the list of lists says; null where there is none. */
  readonly tags: readonly ArchiveEntry[] | null;
  readonly about: Partial<Omit<ArchiveAbout, 'more'>>;
  /** How much its payload is; null where it does not say. */
  readonly payload: { readonly bytes: number; readonly files: number } | null;
}

export interface ArchiveFormat {
  readonly id: string;
  /** Title in plans. */
  readonly title: string;
  /** Stands in its folder once it is whole: it is known by that, and that is written last. */
  readonly mark: string;
  /** The list that all its files are compared with. */
  readonly manifest: string;
  /** The list of lists. */
  readonly tagList: string;
  /** Folder of what it carries. */
  readonly payloadFolder: string;
  /** Whether a file is what it carries, and not what tells of it. */
  readonly isPayload: (file: { readonly path: string }) => boolean;
  readonly lists: readonly ArchiveList[];
  /** `textOf`: a text of it; null where there is none. */
  readonly read: (textOf: (path: string) => Promise<string | null>) => Promise<ArchiveRead>;
}
