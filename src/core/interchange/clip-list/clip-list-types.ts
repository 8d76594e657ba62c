/** A clip list as a table of text: what a row says of one clip. */

export const CLIP_LIST_FIELDS = ['name', 'file', 'reel', 'start', 'in', 'out', 'bin', 'notes', 'rate'] as const;
export type ClipListField = (typeof CLIP_LIST_FIELDS)[number];

/** Column (from 0) of each field; fields that are left out are not read. */
export type ColumnMap = Readonly<Partial<Record<ClipListField, number>>>;

/** `rate`: at which its timecodes are counted; empty at that of the list. */
export type ClipListRow = Readonly<Record<ClipListField, string>>;

/** The table before it is understood: for a look at it, and for choosing the columns. */
export interface TablePreview {
  readonly columns: readonly string[];
  /** The first rows, as they stand. */
  readonly rows: readonly (readonly string[])[];
  readonly rowCount: number;
  /** What the column titles suggest. */
  readonly guess: ColumnMap;
}
