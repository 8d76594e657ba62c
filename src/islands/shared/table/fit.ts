/** Widths of columns by what stands in them: nothing is cut while another column has room to spare. */

export interface Fitted {
  /** Never narrower (px). */
  readonly least: number;
  /** As wide as the name in it, which is whole before anything else is (px). */
  readonly name: number;
  /** As wide as what stands in it (px). */
  readonly need: number;
  /** As wide as it is meant to be where nothing is cut (px). */
  readonly wish: number;
  /** Its share of room that nobody needs; 0: it takes none. */
  readonly grow: number;
}

/**
 * Widths in pixels, in the order of the columns. Where there is less room than all need, each gets its least, and the rest is
 * given out evenly, so that those who lack little are whole first: names, then all, then wishes. What is left then goes by `grow`. Together they are as wide as `room`, or as all of their least.
 */
export function fitWidths(columns: readonly Fitted[], room: number): number[] {
  const widths = columns.map(({ least }) => least);
  let left = room - widths.reduce((sum, width) => sum + width, 0);
  for (const goal of ['name', 'need', 'wish'] as const) {
    const lacks = (index: number) => Math.max(0, columns[index]![goal] - widths[index]!);
    let lacking = columns.map((_, index) => index).filter((index) => lacks(index) > 0.01);
    while (left > 0.5 && lacking.length > 0) {
      const each = Math.min(left / lacking.length, ...lacking.map(lacks));
      for (const index of lacking) widths[index]! += each;
      left -= each * lacking.length;
      lacking = lacking.filter((index) => lacks(index) > 0.01);
    }
  }
  const shares = columns.reduce((sum, { grow }) => sum + grow, 0);
  if (left > 0 && shares > 0) columns.forEach(({ grow }, index) => (widths[index]! += (left * grow) / shares));
  return widths;
}

/** The least of a column that only grows. */
const FREE_PX = 60;

/** A track of the grid as it is written for a column: "96px", "1fr", "minmax(120px, 2fr)". */
export function trackOf(track: string): { readonly least: number; readonly grow: number } {
  const parts = track.replace('minmax(', '').replace(')', '').split(',').map((part) => part.trim()); // prettier-ignore
  const [px, fr] = ['px', 'fr'].map((unit) => parts.find((part) => part.endsWith(unit)));
  return { least: px !== undefined ? Number.parseFloat(px) : fr !== undefined ? FREE_PX : 0, grow: fr === undefined ? 0 : Number.parseFloat(fr) };
}
