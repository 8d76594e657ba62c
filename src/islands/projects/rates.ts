import { rateLabel, type Rate } from '../../core/time/rate';

/** Rates a project may be counted at. */
export const PROJECT_RATES: readonly Rate[] = [
  { num: 24_000, den: 1001 },
  { num: 24, den: 1 },
  { num: 25, den: 1 },
  { num: 30_000, den: 1001 },
  { num: 30, den: 1 },
  { num: 48_000, den: 1001 },
  { num: 48, den: 1 },
  { num: 50, den: 1 },
  { num: 60_000, den: 1001 },
  { num: 60, den: 1 },
  { num: 120_000, den: 1001 },
  { num: 120, den: 1 },
];

export const RATE_OPTIONS = PROJECT_RATES.map((rate) => ({ value: `${rate.num}/${rate.den}`, label: `${rateLabel(rate)} fps` }));
