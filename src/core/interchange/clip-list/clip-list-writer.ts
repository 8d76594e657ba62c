/** A clip list as CSV (RFC 4180), with a line of titles. */
import Papa from 'papaparse';
import { CLIP_LIST_FIELDS, type ClipListRow } from './clip-list-types';

/** What begins like a formula gets a ' before it, so that a spreadsheet shows it instead of running it; one that stands there already stays. */
export function writeClipList(rows: readonly ClipListRow[]): string {
  const fields = CLIP_LIST_FIELDS.filter((field) => field !== 'rate' || rows.some((row) => row.rate !== ''));
  const titles = fields.map((field) => field[0]!.toUpperCase() + field.slice(1));
  const table = [titles, ...rows.map((row) => fields.map((field) => row[field]))];
  return `${Papa.unparse(table, { newline: '\r\n', escapeFormulae: /^'*[=+\-@\t\r]/ })}\r\n`;
}
