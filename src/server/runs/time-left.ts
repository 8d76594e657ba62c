/** How long a run still takes. */

export interface Going {
  /** Seconds of the whole run as its plan reckoned them; null where it did not. */
  readonly planned: number | null;
  /** How much of it is done, from 0 to 1; and how much of that since this process drives it. */
  readonly share: number;
  readonly ownShare: number;
  /** Seconds that it worked since then, pauses left out. */
  readonly worked: number;
}

/** From there on only its own pace counts. */
const TELLING_SHARE = 0.25;
const FIRST_SECONDS = 3;

/**
 * By what the plan reckoned at first, and by the run's own pace the more of it is done: encoders go unevenly, and the
 * last seconds tell little of the rest. Null where neither tells anything.
 */
export function secondsLeft({ planned, share, ownShare, worked }: Going): number | null {
  const rest = Math.max(0, 1 - share);
  const own = ownShare > 0.005 && worked > FIRST_SECONDS ? (worked / ownShare) * rest : null;
  if (planned === null) return own;
  if (own === null) return planned * rest;
  const weight = Math.min(1, ownShare / TELLING_SHARE);
  return weight * own + (1 - weight) * planned * rest;
}
