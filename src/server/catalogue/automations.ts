/** What begins by itself: settings of each, by project. */
import type { Db } from './db';

export interface Automation {
  readonly name: string;
  readonly isOn: boolean;
  /** As the kind of plan has them; checked where they are used. */
  readonly settings: object;
}

export class Automations {
  constructor(private readonly db: Db) {}

  put(projectId: string, { name, isOn, settings }: Automation, actor: string): void {
    this.db
      .prepare(
        `INSERT INTO automations (project_id, name, is_on, settings, actor) VALUES (?, ?, ?, ?, ?)
         ON CONFLICT DO UPDATE SET is_on = excluded.is_on, settings = excluded.settings, actor = excluded.actor`,
      )
      .run(projectId, name, isOn ? 1 : 0, JSON.stringify(settings), actor);
  }

  ofProject(projectId: string): Automation[] {
    const rows = this.db.prepare('SELECT name, is_on AS isOn, settings FROM automations WHERE project_id = ? ORDER BY name').all(projectId);
    return (rows as { name: string; isOn: number; settings: string }[]).map(({ name, isOn, settings }) => ({
      name,
      isOn: isOn === 1,
      settings: JSON.parse(settings) as object,
    }));
  }

  /** Projects in which it is switched on. */
  on(name: string): { readonly projectId: string; readonly settings: object }[] {
    const rows = this.db
      .prepare('SELECT project_id AS projectId, settings FROM automations WHERE name = ? AND is_on = 1 ORDER BY project_id')
      .all(name);
    return (rows as { projectId: string; settings: string }[]).map((row) => ({ ...row, settings: JSON.parse(row.settings) as object }));
  }
}
