import type { Window } from '../../core/lists/list-window';
import { api } from './api';

/** The most that the server gives at once. */
const MOST_ROWS = 1000;

interface PlanPart {
  readonly projectId: string;
  readonly kind: string;
  readonly settings: unknown;
  readonly group: string;
}

/** All rows of a part of what a plan lists: what is done with them is done with those out of sight too. */
export async function allRows<Row>(of: PlanPart): Promise<Row[]> {
  const out: Row[] = [];
  for (;;) {
    const { total, rows } = await api.postTo<Window<Row>>('plans/rows', { ...of, limit: MOST_ROWS, offset: out.length });
    out.push(...rows);
    if (rows.length === 0 || out.length >= total) return out;
  }
}
