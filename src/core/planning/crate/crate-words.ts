import { LINK_STATES, type LinkState } from '../../project/clip';

/** Of the clips that its timelines use. */
export interface CrateHolds {
  readonly clips: number;
  /** How many it lacks, by the state they were in. */
  readonly lacks: Readonly<Partial<Record<LinkState, number>>>;
}

/** "21 of 27 clips, 4 unplugged, 2 missing"; null for a crate that holds the media of every clip it was made for. */
export function lackWords(holds: CrateHolds | null): string | null {
  if (!holds) return null;
  const lacking = LINK_STATES.flatMap((state) => ((holds.lacks[state] ?? 0) > 0 ? [{ state, count: holds.lacks[state]! }] : []));
  const sum = lacking.reduce((total, { count }) => total + count, 0);
  if (sum === 0) return null;
  return [`${holds.clips - sum} of ${holds.clips} clips`, ...lacking.map(({ state, count }) => `${count} ${state.replace('-', ' ')}`)].join(', ');
}
