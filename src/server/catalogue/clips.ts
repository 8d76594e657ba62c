import type { Clip, Expected, MediaLink, Rendition, RenditionKind } from '../../core/project/clip';
import type { Moment } from '../../core/project/moment';
import type { Db } from './database';

interface RawClip {
  id: string;
  name: string;
  bin_path: string;
  media_start: string | null;
  set_aside: number;
}

interface RawLink {
  clip_id: string;
  rendition_id: string;
  kind: RenditionKind;
  position: number;
  shelf_id: string | null;
  path: string | null;
  url: string;
  expected: string;
}

export interface NewClip {
  readonly id: string;
  readonly name: string;
  readonly binPath: string;
  /** What makes two events of any timeline uses of one clip. */
  readonly mediaKey: string;
  readonly mediaStart: Moment | null;
  readonly renditionId: string;
  readonly link: MediaLink;
}

function linkFromRaw(raw: RawLink): MediaLink {
  return {
    place: raw.shelf_id !== null && raw.path !== null ? { shelfId: raw.shelf_id, path: raw.path } : null,
    url: raw.url,
    expected: JSON.parse(raw.expected) as Expected,
  };
}

export class Clips {
  constructor(private readonly db: Db) {}

  ofProject(projectId: string): Clip[] {
    const links = this.db
      .prepare(
        `SELECT r.clip_id, r.id AS rendition_id, r.kind, l.position, l.shelf_id, l.path, l.url, l.expected
         FROM renditions r JOIN clips c ON c.id = r.clip_id JOIN links l ON l.rendition_id = r.id WHERE c.project_id = ? ORDER BY r.rowid, l.position`,
      )
      .all(projectId) as RawLink[];
    const byClip = new Map<string, Map<string, { id: string; kind: RenditionKind; links: MediaLink[] }>>();
    for (const raw of links) {
      const renditions = byClip.get(raw.clip_id) ?? new Map<string, { id: string; kind: RenditionKind; links: MediaLink[] }>();
      const rendition = renditions.get(raw.rendition_id) ?? { id: raw.rendition_id, kind: raw.kind, links: [] };
      rendition.links.push(linkFromRaw(raw));
      renditions.set(raw.rendition_id, rendition);
      byClip.set(raw.clip_id, renditions);
    }
    const clips = this.db
      .prepare('SELECT id, name, bin_path, media_start, set_aside FROM clips WHERE project_id = ? ORDER BY name')
      .all(projectId) as RawClip[];
    return clips.map((raw) => ({
      id: raw.id,
      name: raw.name,
      binPath: raw.bin_path,
      mediaStart: raw.media_start === null ? null : (JSON.parse(raw.media_start) as Moment),
      setAside: raw.set_aside === 1,
      renditions: [...(byClip.get(raw.id)?.values() ?? [])] satisfies Rendition[],
    }));
  }

  idByMediaKey(projectId: string, mediaKey: string): string | null {
    return (
      (this.db.prepare('SELECT id FROM clips WHERE project_id = ? AND media_key = ?').pluck().get(projectId, mediaKey) as string | undefined) ?? null
    );
  }

  add(projectId: string, clip: NewClip): void {
    this.db
      .prepare('INSERT INTO clips (id, project_id, name, bin_path, media_key, media_start) VALUES (?, ?, ?, ?, ?, ?)')
      .run(clip.id, projectId, clip.name, clip.binPath, clip.mediaKey, clip.mediaStart ? JSON.stringify(clip.mediaStart) : null);
    this.db.prepare('INSERT INTO renditions (id, clip_id, kind) VALUES (?, ?, ?)').run(clip.renditionId, clip.id, 'source');
    this.insertLink(clip.renditionId, 0, clip.link);
  }

  private insertLink(renditionId: string, position: number, link: MediaLink): void {
    this.db
      .prepare('INSERT INTO links (rendition_id, position, shelf_id, path, url, expected) VALUES (?, ?, ?, ?, ?, ?)')
      .run(renditionId, position, link.place?.shelfId ?? null, link.place?.path ?? null, link.url, JSON.stringify(link.expected));
  }

  /** Points one item of a rendition somewhere else; gives back the link as it was. Null when there is none. */
  relink(renditionId: string, position: number, link: MediaLink): MediaLink | null {
    const old = this.db
      .prepare(
        'SELECT r.clip_id, r.id AS rendition_id, r.kind, l.position, l.shelf_id, l.path, l.url, l.expected FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE l.rendition_id = ? AND l.position = ?',
      )
      .get(renditionId, position) as RawLink | undefined;
    if (!old) return null;
    this.db
      .prepare('UPDATE links SET shelf_id = ?, path = ?, url = ?, expected = ? WHERE rendition_id = ? AND position = ?')
      .run(link.place?.shelfId ?? null, link.place?.path ?? null, link.url, JSON.stringify(link.expected), renditionId, position);
    return linkFromRaw(old);
  }

  setAside(projectId: string, clipIds: readonly string[], aside: boolean): number {
    const set = this.db.prepare('UPDATE clips SET set_aside = ? WHERE project_id = ? AND id = ?');
    return this.db.transaction(() => clipIds.reduce((sum, id) => sum + set.run(aside ? 1 : 0, projectId, id).changes, 0))();
  }

  /** Takes out clips that no event uses any more, out of `clipIds`. */
  removeUnused(clipIds: readonly string[]): void {
    const remove = this.db.prepare('DELETE FROM clips WHERE id = ? AND NOT EXISTS (SELECT 1 FROM timeline_events WHERE clip_id = clips.id)');
    this.db.transaction(() => clipIds.forEach((id) => remove.run(id)))();
  }

  /** Copies every clip of a project into another; returns old id → new id. */
  duplicate(fromProject: string, toProject: string, newId: () => string): Map<string, string> {
    const ids = new Map<string, string>();
    const keys = new Map(this.db.prepare('SELECT id, media_key FROM clips WHERE project_id = ?').raw().all(fromProject) as [string, string][]);
    for (const clip of this.ofProject(fromProject)) {
      const id = newId();
      ids.set(clip.id, id);
      this.db
        .prepare('INSERT INTO clips (id, project_id, name, bin_path, media_key, media_start, set_aside) VALUES (?, ?, ?, ?, ?, ?, ?)')
        .run(
          id,
          toProject,
          clip.name,
          clip.binPath,
          keys.get(clip.id)!,
          clip.mediaStart ? JSON.stringify(clip.mediaStart) : null,
          clip.setAside ? 1 : 0,
        );
      for (const rendition of clip.renditions) {
        const renditionId = newId();
        this.db.prepare('INSERT INTO renditions (id, clip_id, kind) VALUES (?, ?, ?)').run(renditionId, id, rendition.kind);
        rendition.links.forEach((link, position) => this.insertLink(renditionId, position, link));
      }
    }
    return ids;
  }
}
