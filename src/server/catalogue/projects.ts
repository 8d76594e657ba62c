import { rate, type Rate } from '../../core/time/rate';
import type { Place } from '../../core/media/item';
import type { Homes } from '../../core/rendition/homes';
import { READ_AT_FIRST, type ReadOrder } from '../../core/rendition/read-order';
import type { Db } from './db';

export interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly readOrder: ReadOrder;
  readonly homes: Homes;
  /** The folder that its files are sorted into; null before the first sort. */
  readonly ownFolder: Place | null;
  /** Shelves that it reads before others, in order. */
  readonly drives: readonly string[];
  readonly createdAt: string;
  readonly usedAt: string;
  /** What was wrong with the crate that it was opened from; null where nothing was, or it came otherwise. */
  readonly openedFrom: OpenedFrom | null;
}

/** A crate that was opened though something was wrong with it: what, in sentences. */
export interface OpenedFrom {
  readonly crate: string;
  readonly runId: number;
  readonly trouble: readonly string[];
}

interface Raw {
  id: string;
  name: string;
  rate_num: number;
  rate_den: number;
  drop_frame: number;
  read_order: string | null;
  homes: string | null;
  drives: string | null;
  own_folder: string | null;
  opened_from: string | null;
  created_at: string;
  used_at: string;
}

function fromRaw(raw: Raw): ProjectRow {
  return {
    id: raw.id,
    name: raw.name,
    rate: rate(raw.rate_num, raw.rate_den),
    dropFrame: raw.drop_frame === 1,
    readOrder: raw.read_order === null ? READ_AT_FIRST : (JSON.parse(raw.read_order) as ReadOrder),
    homes: raw.homes === null ? {} : (JSON.parse(raw.homes) as Homes),
    drives: raw.drives === null ? [] : (JSON.parse(raw.drives) as string[]),
    ownFolder: raw.own_folder === null ? null : (JSON.parse(raw.own_folder) as Place),
    createdAt: raw.created_at,
    usedAt: raw.used_at,
    openedFrom: raw.opened_from === null ? null : (JSON.parse(raw.opened_from) as OpenedFrom),
  };
}

/** Letters of all that is remembered of a project: it is sent with every look at it. */
const MOST_REMEMBERED = 4_000_000;

export class Projects {
  constructor(private readonly db: Db) {}

  list(): ProjectRow[] {
    return (this.db.prepare('SELECT * FROM projects ORDER BY used_at DESC').all() as Raw[]).map(fromRaw);
  }

  get(id: string): ProjectRow | null {
    const raw = this.db.prepare('SELECT * FROM projects WHERE id = ?').get(id) as Raw | undefined;
    return raw ? fromRaw(raw) : null;
  }

  add(
    project: Omit<ProjectRow, 'usedAt' | 'readOrder' | 'homes' | 'drives' | 'ownFolder' | 'openedFrom'> &
      Partial<Pick<ProjectRow, 'readOrder' | 'homes' | 'drives'>>,
  ): void {
    this.db
      .prepare(
        'INSERT INTO projects (id, name, rate_num, rate_den, drop_frame, read_order, homes, drives, created_at, used_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      )
      .run(
        project.id,
        project.name,
        project.rate.num,
        project.rate.den,
        project.dropFrame ? 1 : 0,
        project.readOrder ? JSON.stringify(project.readOrder) : null,
        project.homes ? JSON.stringify(project.homes) : null,
        project.drives ? JSON.stringify(project.drives) : null,
        project.createdAt,
        project.createdAt,
      );
  }

  rename(id: string, name: string): void {
    this.db.prepare('UPDATE projects SET name = ? WHERE id = ?').run(name, id);
  }

  readIn(id: string, order: ReadOrder): void {
    this.db.prepare('UPDATE projects SET read_order = ? WHERE id = ?').run(JSON.stringify(order), id);
  }

  setHomes(id: string, homes: Homes): void {
    this.db.prepare('UPDATE projects SET homes = ? WHERE id = ?').run(JSON.stringify(homes), id);
  }

  sortInto(id: string, folder: Place | null): void {
    this.db.prepare('UPDATE projects SET own_folder = ? WHERE id = ?').run(folder && JSON.stringify(folder), id);
  }

  readFrom(id: string, drives: readonly string[]): void {
    this.db.prepare('UPDATE projects SET drives = ? WHERE id = ?').run(JSON.stringify(drives), id);
  }

  openedFrom(id: string, opened: OpenedFrom | null): void {
    this.db.prepare('UPDATE projects SET opened_from = ? WHERE id = ?').run(opened === null ? null : JSON.stringify(opened), id);
  }

  touch(id: string, at: string): void {
    this.db.prepare('UPDATE projects SET used_at = ? WHERE id = ?').run(at, id);
  }

  remove(id: string): void {
    this.db.prepare('DELETE FROM projects WHERE id = ?').run(id);
  }

  remembered(id: string): Record<string, unknown> {
    const rows = this.db.prepare('SELECT name, value FROM remembered WHERE project_id = ?').all(id) as { name: string; value: string }[];
    return Object.fromEntries(rows.map((row) => [row.name, JSON.parse(row.value) as unknown]));
  }

  /** Keeps what was chosen beside what was kept of other choices under that name. False: all that is kept for the project would be too much. */
  remember(id: string, name: string, choices: object): boolean {
    return this.db
      .transaction(() => {
        const all = this.remembered(id);
        const kept = all[name];
        const value = { ...(typeof kept === 'object' ? kept : null), ...choices };
        if (JSON.stringify({ ...all, [name]: value }).length > MOST_REMEMBERED) return false;
        this.db
          .prepare('INSERT INTO remembered (project_id, name, value) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET value = excluded.value')
          .run(id, name, JSON.stringify(value));
        return true;
      })
      .immediate();
  }
}
