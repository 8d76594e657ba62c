/** Sends players where they shall stand, and sees to it that they arrive. */

/** What is needed of a `<video>`. */
export interface Seekable extends EventTarget {
  currentTime: number;
  readonly seeking: boolean;
  readonly paused: boolean;
  readonly isConnected: boolean;
}

/** A player that has not arrived after so long is sent once more, later each time, in milliseconds. */
export const RESEND_MS = 700;
/** Places beyond its end a player never reaches: after so many times it stands where it stands. */
export const MOST_TRIES = 6;
/** Players keep microseconds. */
const NEAR_SECONDS = 1e-4;

/** Where each player that is on its way goes: of many wishes only the last is followed. */
const wishes = new WeakMap<Seekable, number>();

/**
 * Sends a player to `seconds`. Sent elsewhere before it has arrived, a player can stay on its way for good, and word
 * of an arrival can come when it is already going elsewhere: so one wish at a time is followed, where it stands is
 * looked at when word comes, and it is sent again where none does.
 */
export function send(player: Seekable, seconds: number): void {
  const isOnItsWay = wishes.has(player);
  wishes.set(player, seconds);
  if (!isOnItsWay) follow(player, seconds, 1);
}

function follow(player: Seekable, seconds: number, tries: number): void {
  const look = () => {
    const isLate = performance.now() >= due;
    // Word of an earlier way: this one goes on.
    if (player.seeking && !isLate) return;
    player.removeEventListener('seeked', look);
    clearTimeout(timer);
    const wish = wishes.get(player)!;
    const isSame = wish === seconds;
    // What plays has gone on since.
    const isThere = isSame && !player.seeking && (!player.paused || Math.abs(player.currentTime - wish) <= NEAR_SECONDS);
    if (isThere || !player.isConnected || (isSame && tries >= MOST_TRIES)) wishes.delete(player);
    else follow(player, wish, isSame ? tries + 1 : 1);
  };
  const due = performance.now() + RESEND_MS * tries;
  const timer = setTimeout(look, RESEND_MS * tries + 1);
  player.addEventListener('seeked', look);
  player.currentTime = seconds;
}
