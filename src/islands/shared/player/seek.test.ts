import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { MOST_TRIES, RESEND_MS, send, type Seekable } from './seek';

/** A player as browsers have them: it says that it stands before the word of it comes, and may lose its way. */
class Player extends EventTarget implements Seekable {
  seeking = false;
  paused = true;
  isConnected = true;
  /** Ways that are lost: the player stays on its way for good. */
  lost: (target: number, wasSeeking: boolean) => boolean = () => false;
  end = 100;
  readonly sent: number[] = [];
  private at = 0;
  private way = 0;

  get currentTime(): number {
    return this.at;
  }
  set currentTime(target: number) {
    this.sent.push(target);
    const wasSeeking = this.seeking;
    const way = ++this.way;
    this.seeking = true;
    this.at = Math.min(target, this.end);
    if (this.lost(target, wasSeeking)) return;
    setTimeout(() => {
      if (way !== this.way) return;
      this.seeking = false;
      // Word comes a moment later, whatever has been asked meanwhile.
      setTimeout(() => this.dispatchEvent(new Event('seeked')), 10);
    }, 20);
  }
}

beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }));
afterEach(() => void vi.useRealTimers());

describe('players that are sent', () => {
  it('stand at the last wish, whenever the wishes come: between arrival and its word too', () => {
    for (let pause = 0; pause <= 45; pause++) {
      const player = new Player();
      // Sent on before it has arrived it never arrives.
      player.lost = (_, wasSeeking) => wasSeeking;
      for (const wish of [1, 2, 3, 4, 3]) {
        send(player, wish);
        vi.advanceTimersByTime(pause);
      }
      vi.advanceTimersByTime(200);
      expect([pause, player.seeking, player.currentTime]).toEqual([pause, false, 3]);
    }
  });

  it('are sent again where no word comes, and go where was wished meanwhile', () => {
    const player = new Player();
    let left = 2;
    player.lost = () => left-- > 0;
    send(player, 5);
    send(player, 6);
    vi.advanceTimersByTime(RESEND_MS * 3 + 100);
    expect([player.seeking, player.currentTime]).toEqual([false, 6]);
  });

  it('are moved by somebody else and sent again; beyond their end and taken away they are let go', () => {
    const moved = new Player();
    send(moved, 5);
    vi.advanceTimersByTime(5);
    moved.currentTime = 8;
    vi.advanceTimersByTime(200);
    expect(moved.currentTime).toBe(5);
    const beyond = new Player();
    send(beyond, 500);
    vi.advanceTimersByTime(60_000);
    expect(beyond.sent).toHaveLength(MOST_TRIES);
    send(beyond, 2);
    vi.advanceTimersByTime(200);
    expect(beyond.currentTime).toBe(2);
    const gone = new Player();
    gone.lost = () => true;
    send(gone, 3);
    gone.isConnected = false;
    vi.advanceTimersByTime(60_000);
    expect(gone.sent).toEqual([3]);
  });

  it('go on when they play: they are not pulled back to where they began', () => {
    const player = new Player();
    send(player, 3);
    player.paused = false;
    vi.advanceTimersByTime(25);
    Object.defineProperty(player, 'currentTime', { get: () => 3.4, set: () => expect.unreachable() });
    vi.advanceTimersByTime(60_000);
    expect(player.sent).toEqual([3]);
  });
});
