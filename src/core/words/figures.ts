/** Figures as people read them. */

const UNITS = ['B', 'kB', 'MB', 'GB', 'TB', 'PB'];

/** Decimal units (1 GB = 10⁹ bytes), three significant figures: "18.4 GB". */
export function formatBytes(bytes: number): string {
  if (!Number.isFinite(bytes)) return '–';
  let value = Math.abs(bytes);
  let unit = 0;
  // 999.5 kB would read "1000 kB": go on to the next unit.
  while (unit < UNITS.length - 1 && Number(value.toPrecision(3)) >= 1000) {
    value /= 1000;
    unit++;
  }
  const text = unit === 0 ? String(Math.round(value)) : value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2);
  return `${bytes < 0 ? '−' : ''}${text} ${UNITS[unit]}`;
}

const COUNTS = new Intl.NumberFormat('en', { maximumFractionDigits: 0 });

/** Thin spaces between thousands. */
export function formatCount(count: number): string {
  return COUNTS.format(count).replaceAll(',', '\u2009');
}
