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

const PLURALS = new Intl.PluralRules('en');

/** "4 files", "1 file". */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${oneOrMany(count, one, many)}`;
}

/** What agrees with a count that stands elsewhere: "is" or "are". */
export function oneOrMany(count: number, one: string, many: string): string {
  return PLURALS.select(count) === 'one' ? one : many;
}

/** "a, b, c and 2 more". */
export function fewNames(names: readonly string[], most = 3): string {
  return `${names.slice(0, most).join(', ')}${names.length > most ? ` and ${names.length - most} more` : ''}`;
}

/** "40 s", "6 min", "2 h 10 min". */
export function formatDuration(seconds: number): string {
  if (seconds < 60) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** Bytes as people type them, decimal units: "1 TB", "1.5 GB", "20" (GB). Null where it is no such thing. */
export function readBytes(text: string): number | null {
  const found = /^([0-9]+(?:[.,][0-9]+)?) ?([kKMGTP]?)[bB]?$/.exec(text.trim());
  if (!found) return null;
  const unit = found[2] === '' ? 'GB' : `${found[2] === 'K' ? 'k' : found[2]}B`;
  const bytes = Math.round(Number(found[1]!.replace(',', '.')) * 1000 ** UNITS.indexOf(unit));
  return Number.isSafeInteger(bytes) ? bytes : null;
}

/** As a sentence or a label begins. */
export function upperFirst(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
