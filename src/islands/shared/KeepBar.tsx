import { grow, subtract, type RangeSet } from '../../core/time/range';

interface Props {
  readonly lengthFrames: number;
  readonly used: RangeSet;
  /** With handles; equal to `used` where none are kept. */
  readonly kept: RangeSet;
  readonly whole: boolean;
  readonly offline?: boolean;
  readonly title?: string;
}

/** One item at its full length: used parts solid, handles hatched, the rest blank. */
export function KeepBar({ lengthFrames, used, kept, whole, offline = false, title }: Props) {
  const part = (range: { start: number; end: number }) => ({
    left: `${(100 * range.start) / lengthFrames}%`,
    width: `${(100 * (range.end - range.start)) / lengthFrames}%`,
  });
  const handles = whole ? [] : subtract(grow(kept, 0, 0), used);
  return (
    <div className={`keep${whole ? ' whole' : ''}${offline ? ' offline' : ''}`} title={title} role="img" aria-label={title}>
      {handles.map((range) => (
        <s key={`h${range.start}`} style={part(range)} />
      ))}
      {used.map((range) => (
        <i key={range.start} style={part(range)} />
      ))}
    </div>
  );
}
