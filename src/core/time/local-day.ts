import dayjs from 'dayjs';

/** The day of a moment by the clock of this machine, as 2026-05-04. */
export function localDay(moment: Date): string {
  return dayjs(moment).format('YYYY-MM-DD');
}
