/** Bins of a project, and edits of bins and clips that can be taken back. */
import type { Bin, BinChange } from '../../core/project/bins';
import type { Clip } from '../../core/project/clip';
import type { Clips } from './clips';
import type { Db } from './db';

export interface Edit {
  readonly id: number;
  readonly title: string;
  readonly madeAt: string;
}

const MOST_EDITS_KEPT = 200;

export class Bins {
  constructor(
    private readonly db: Db,
    private readonly clips: Clips,
  ) {}

  ofProject(projectId: string): Bin[] {
    return this.db.prepare('SELECT path, colour, note FROM bins WHERE project_id = ? ORDER BY path').all(projectId) as Bin[];
  }

  /** Makes sure of a bin and of all above it. */
  ensure(projectId: string, path: string): void {
    const insert = this.db.prepare('INSERT OR IGNORE INTO bins (project_id, path) VALUES (?, ?)');
    for (let at = path; at !== ''; at = at.slice(0, Math.max(0, at.lastIndexOf('/')))) insert.run(projectId, at);
  }

  /** Makes sure of a bin and of all above it; gives those that were not there. */
  make(projectId: string, path: string): string[] {
    const before = new Set(this.ofProject(projectId).map((bin) => bin.path));
    this.ensure(projectId, path);
    return this.ofProject(projectId).map((bin) => bin.path).filter((own) => !before.has(own)); // prettier-ignore
  }

  /** Of these bins, the deepest first, those that hold nothing, have no words and no colour go. */
  dropEmpty(projectId: string, paths: readonly string[]): void {
    const drop = this.db.prepare(
      `DELETE FROM bins WHERE project_id = @projectId AND path = @path AND note = '' AND colour = ''
       AND NOT EXISTS (SELECT 1 FROM clips WHERE project_id = @projectId AND bin_path = @path)
       AND NOT EXISTS (SELECT 1 FROM bins WHERE project_id = @projectId AND path >= @path || '/' AND path < @path || '0')`,
    );
    for (const path of [...paths].sort((a, b) => b.length - a.length)) drop.run({ projectId, path });
  }

  duplicate(fromProject: string, toProject: string): void {
    this.db
      .prepare('INSERT INTO bins (project_id, path, colour, note) SELECT ?, path, colour, note FROM bins WHERE project_id = ?')
      .run(toProject, fromProject);
  }

  /** Applies an edit and remembers how to take it back. What was undone before can no longer be done again. */
  edit(projectId: string, title: string, change: BinChange, actor = 'this machine'): void {
    this.db
      .transaction(() => {
        this.db.prepare('DELETE FROM edits WHERE project_id = ? AND undone = 1').run(projectId);
        const back = this.apply(projectId, change);
        this.db
          .prepare('INSERT INTO edits (project_id, title, made_at, change, actor) VALUES (?, ?, ?, ?, ?)')
          .run(projectId, title, new Date().toISOString(), JSON.stringify(back), actor);
        this.db
          .prepare('DELETE FROM edits WHERE project_id = ? AND id NOT IN (SELECT id FROM edits WHERE project_id = ? ORDER BY id DESC LIMIT ?)')
          .run(projectId, projectId, MOST_EDITS_KEPT);
      })
      .immediate();
  }

  /** The edit that would be taken back next, and the one that would be done again. */
  next(projectId: string): { undo: Edit | null; redo: Edit | null } {
    const columns = 'id, title, made_at AS madeAt';
    const get = (undone: number, order: string) =>
      (this.db.prepare(`SELECT ${columns} FROM edits WHERE project_id = ? AND undone = ? ORDER BY id ${order} LIMIT 1`).get(projectId, undone) as
        Edit | undefined) ?? null;
    return { undo: get(0, 'DESC'), redo: get(1, 'ASC') };
  }

  /** Takes the last edit back, or does the last undone one again; gives its title, null when there is none. */
  step(projectId: string, direction: 'undo' | 'redo'): string | null {
    const edit = this.next(projectId)[direction];
    if (!edit) return null;
    this.db
      .transaction(() => {
        const change = JSON.parse(this.db.prepare('SELECT change FROM edits WHERE id = ?').pluck().get(edit.id) as string) as BinChange;
        const other = this.apply(projectId, change);
        this.db.prepare('UPDATE edits SET change = ?, undone = ? WHERE id = ?').run(JSON.stringify(other), direction === 'undo' ? 1 : 0, edit.id);
      })
      .immediate();
    return edit.title;
  }

  private apply(projectId: string, change: BinChange): BinChange {
    const bins = new Map(this.ofProject(projectId).map((bin) => [bin.path, bin]));
    const clips = new Map(this.clips.ofProject(projectId).map((clip) => [clip.id, clip]));
    const droppable = new Set(this.clips.unused(projectId));
    const dropClips = change.dropClips.filter((id) => clips.has(id) && droppable.has(id));
    // A clip that was taken out may have come in again with a timeline: it is that one then, with the words it had.
    const putClips = change.putClips.map((clip) => {
      const again = clips.has(clip.id) ? null : this.clips.idByMediaKey(projectId, clip.mediaKey);
      return again === null ? clip : { ...clip, id: again };
    });
    const back = {
      putBins: [...change.dropBins, ...change.putBins.map((bin) => bin.path)].flatMap((path) => bins.get(path) ?? []),
      dropBins: change.putBins.filter((bin) => !bins.has(bin.path)).map((bin) => bin.path),
      putClips: [...dropClips, ...putClips.map((clip) => clip.id)].flatMap((id): Clip[] => (clips.has(id) ? [clips.get(id)!] : [])),
      dropClips: putClips.filter((clip) => !clips.has(clip.id)).map((clip) => clip.id),
    } satisfies BinChange;
    const dropBin = this.db.prepare('DELETE FROM bins WHERE project_id = ? AND path = ?');
    const putBin = this.db.prepare(
      'INSERT INTO bins (project_id, path, colour, note) VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET colour = excluded.colour, note = excluded.note',
    );
    for (const path of change.dropBins) dropBin.run(projectId, path);
    for (const bin of change.putBins) putBin.run(projectId, bin.path, bin.colour, bin.note);
    for (const clip of putClips) this.clips.put(projectId, clip);
    this.clips.remove(dropClips);
    return back;
  }
}
