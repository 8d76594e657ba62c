/** Lines and columns of a list, each by its own rule. */
import type { Rate } from '../../time/rate';
import type { Speed } from '../../time/retime';
import { frameToTimecode } from '../../time/timecode';
import { speedColumn } from './edl-speed';
import { BETWEEN_FRAMES } from './edl-types';
import type { SourceCounting } from './source-read';

/** For readers that know it: rounded down, to the millionth that times are kept to. */
export function betweenLine(part: number): string[] {
  const stated = Math.floor(part * 1e6) / 1e6;
  return stated === 0 ? [] : [`* ${BETWEEN_FRAMES}: ${stated.toFixed(6)}`];
}

/** V, A and A2 stand in the column; A3 and A4 on a line of their own. */
export function channelColumn(channel: string): [string, string[]] {
  if (channel === 'V' || channel === 'A2') return [channel, []];
  return channel === 'A1' ? ['A', []] : ['NONE', [`AUD   ${channel.slice(1)}`]];
}

/** Names are hostile: a line break in one would be a line of the list. */
export function oneLine(text: string): string {
  return text.replace(/[\u0000-\u001f\u007f\u2028\u2029]+/g, ' ').trim();
}

/** `rate`: of the list; `count`: how its source is counted. */
export function speedLines(reel: string, speed: Speed, sourceIn: number, count: SourceCounting, rate: Rate): string[] {
  // Readers of this line know colons only, where labels drop too.
  const label = frameToTimecode(sourceIn, count.rate, count.dropFrame).replaceAll(';', ':');
  return [
    `M2   ${reel.padEnd(8)}       ${speedColumn(speed, rate).padEnd(8)}             ${label}`,
    ...(speed.num === 0 ? ['* * FREEZE FRAME'] : []),
  ];
}
