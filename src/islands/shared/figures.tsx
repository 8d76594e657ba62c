import { formatBytes, formatCount, formatDuration } from '../../core/words/figures';

export { plural } from '../../core/words/figures';
import { frameToTimecode } from '../../core/time/timecode';
import type { Rate } from '../../core/time/rate';

/** Decimal units, the exact count on hover. */
export function Bytes({ value }: { value: number }) {
  return (
    <span className="mono" title={`${formatCount(value)} bytes`} data-exact={value} data-unit="bytes">
      {formatBytes(value)}
    </span>
  );
}

export function Count({ value }: { value: number }) {
  return <span data-exact={value}>{formatCount(value)}</span>;
}

export function Duration({ frames, rate, dropFrame }: { frames: number; rate: Rate; dropFrame: boolean }) {
  return (
    <span className="mono" title={`${formatCount(frames)} frames`}>
      {frameToTimecode(frames, rate, dropFrame)}
    </span>
  );
}

/** "6 min left", "40 s left". */
export function timeLeft(seconds: number): string {
  return `${formatDuration(seconds)} left`;
}
