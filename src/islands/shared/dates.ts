import dayjs from 'dayjs';

/** "today 11:02", "yesterday 09:10", "Tue 14 Mar 2026". */
export function shortDate(iso: string, now = dayjs()): string {
  const date = dayjs(iso);
  if (date.isSame(now, 'day')) return `today ${date.format('HH:mm')}`;
  if (date.isSame(now.subtract(1, 'day'), 'day')) return `yesterday ${date.format('HH:mm')}`;
  return date.format('ddd D MMM YYYY');
}

/** The day alone: "today", "yesterday", "Tue 14 Mar 2026". */
export function dayOf(iso: string): string {
  return shortDate(iso).replace(/ \d\d:\d\d$/, '');
}

export function fullDate(iso: string): string {
  return dayjs(iso).format('D MMM YYYY, HH:mm:ss');
}
