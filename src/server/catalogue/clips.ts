import type { Clip, ClipMarks, Conform, MediaLink, Part, PartCopy, Rendition, RenditionKind } from '../../core/project/clip';
import type { Place } from '../../core/media/item';
import type { Made } from '../../core/rendition/recipe';
import type { Moment } from '../../core/project/moment';
import type { Db } from './db';
import { insertLink, linkColumns, linkFromRaw, type RawLink } from './link-rows';
import { Parts, type PartOf } from './parts';
import { COPIES_OF_LINKS, IS_COPY, ONLY_CLIPS } from './sources';
import { clipLines, type ClipLine, type RawCopy, type RawLine } from './clip-lines';

interface RawClip {
  id: string;
  name: string;
  bin_path: string;
  media_start: string | null;
  set_aside: number;
  note: string;
  colour: string;
  marks: string | null;
  conform: Conform;
  made_by: Clip['madeBy'];
  media_key: string;
  source_id: string | null;
}

/** What is told of a rendition only where there is something to tell. */
function came(made: string | null, cameBy: number | null, setBack: number): Pick<Rendition, 'made' | 'cameBy' | 'isSetBack'> {
  return {
    ...(made === null ? {} : { made: JSON.parse(made) as Made }),
    ...(cameBy === null ? {} : { cameBy }),
    ...(setBack === 0 ? {} : { isSetBack: true }),
  };
}

function addTo<Own>(byClip: Map<string, Own[]>, clipId: string, own: Own): void {
  const list = byClip.get(clipId);
  if (list) list.push(own);
  else byClip.set(clipId, [own]);
}

export class Clips {
  constructor(
    private readonly db: Db,
    private readonly parts = new Parts(db),
  ) {}

  /** `only`: these of them; null for all. In order of their names, the renditions of each in the order in which they came. */
  ofProject(projectId: string, only: readonly string[] | null = null): Clip[] {
    const from = only === null ? 'clips c' : ONLY_CLIPS;
    const which = { projectId, ...(only === null ? {} : { only: JSON.stringify(only) }) };
    const links = this.db
      .prepare(
        `SELECT r.clip_id, r.id, r.kind, r.made, r.came_by, r.set_back, l.shelf_id, l.path, l.url, l.expected, l.content, r.part
         FROM ${from} JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id WHERE c.project_id = @projectId ORDER BY coalesce(r.came_by, 0), r.rowid, l.position`,
      )
      .raw()
      .all(which) as [
      string,
      string,
      RenditionKind,
      string | null,
      number | null,
      number,
      string | null,
      string | null,
      string,
      string,
      string | null,
      string | null,
    ][];
    const byClip = new Map<string, (Omit<Rendition, 'links'> & { links: MediaLink[] })[]>();
    const parts = new Map<string, Part[]>();
    const partCopies = new Map<string, (Omit<PartCopy, 'links'> & { links: MediaLink[] })[]>();
    for (const [clipId, id, kind, madeText, cameBy, setBack, shelf_id, path, url, expected, content, part] of links) {
      const link = linkFromRaw({ shelf_id, path, url, expected, content });
      if (part !== null) {
        const of = JSON.parse(part) as PartOf & { readonly earlier?: true };
        if (of.earlier) continue;
        if (kind === 'source') addTo(parts, clipId, { id, links: [link], ...of });
        else if (partCopies.get(clipId)?.at(-1)?.id === id) partCopies.get(clipId)!.at(-1)!.links.push(link);
        else addTo(partCopies, clipId, { id, kind, links: [link], ...came(madeText, cameBy, setBack), ...of });
        continue;
      }
      const own = byClip.get(clipId);
      const last = own?.at(-1);
      if (last?.id === id) last.links.push(link);
      else {
        const rendition = { id, kind, links: [link], ...came(madeText, cameBy, setBack) };
        if (own) own.push(rendition);
        else byClip.set(clipId, [rendition]);
      }
    }
    const clips = this.db
      .prepare(
        `SELECT c.id, name, bin_path, media_start, set_aside, note, colour, marks, conform, made_by, media_key, source_id
         FROM ${from} WHERE c.project_id = @projectId ORDER BY name`,
      )
      .all(which) as RawClip[];
    return clips.map((raw) => ({
      id: raw.id,
      name: raw.name,
      binPath: raw.bin_path,
      mediaStart: raw.media_start === null ? null : (JSON.parse(raw.media_start) as Moment),
      setAside: raw.set_aside === 1,
      renditions: (byClip.get(raw.id) ?? []) satisfies Rendition[],
      note: raw.note,
      colour: raw.colour,
      marks: raw.marks === null ? null : (JSON.parse(raw.marks) as ClipMarks),
      conform: raw.conform,
      madeBy: raw.made_by,
      mediaKey: raw.media_key,
      ...(raw.source_id === null || raw.source_id === raw.id ? {} : { sourceId: raw.source_id }),
      ...(parts.has(raw.id) ? { parts: parts.get(raw.id)! } : {}),
      ...(partCopies.has(raw.id) ? { partCopies: partCopies.get(raw.id)! } : {}),
    }));
  }

  /** The clips as lists tell of them, with what stands where they link: no more is read of either. In order of their names. */
  lines(projectId: string): ClipLine[] {
    const rows = this.db
      .prepare(
        `SELECT c.id, c.name, c.bin_path, c.set_aside, c.note, r.rowid, r.kind, r.set_back, l.position, l.shelf_id, l.path, l.url, l.name, l.fingerprint, l.size_bytes,
           l.kind, i.id, i.size_bytes, i.fingerprint, i.content, i.kind, i.channels, l.chosen, l.content, json_extract(l.expected, '$.told.names'), i.original_name, i.damage, r.part IS NOT NULL
         FROM clips c LEFT JOIN renditions r ON r.clip_id = c.id AND r.part ->> 'earlier' IS NULL LEFT JOIN links l ON l.rendition_id = r.id
         LEFT JOIN items i ON i.shelf_id = l.shelf_id AND i.path = l.path AND i.gone_at IS NULL
           AND i.shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL)
         WHERE c.project_id = ? ORDER BY c.name, c.rowid, coalesce(r.came_by, 0), r.rowid, l.position`,
      )
      .raw()
      .all(projectId) as RawLine[];
    const copies = this.db
      .prepare(
        `SELECT r.rowid, l.position, i.shelf_id, i.path, i.id, i.size_bytes, i.fingerprint, i.content, i.kind, i.channels, i.original_name, i.damage ${COPIES_OF_LINKS}
         WHERE c.project_id = ? AND ${IS_COPY}`,
      )
      .raw()
      .all(projectId) as RawCopy[];
    return clipLines(rows, copies);
  }

  /**
   * Clips of which a file does not stand on one of these shelves just as it was linked. Some of them may be there all the
   * same: what is remembered of a file may be less than what is known of it.
   */
  mayBeAway(projectId: string, attachedShelves: readonly string[]): string[] {
    return this.db
      .prepare(
        `SELECT DISTINCT c.id FROM clips c LEFT JOIN renditions r ON r.clip_id = c.id AND r.kind = 'source' AND r.part IS NULL LEFT JOIN links l ON l.rendition_id = r.id
         WHERE c.project_id = @projectId AND NOT EXISTS (
           SELECT 1 FROM items i WHERE i.shelf_id = l.shelf_id AND i.path = l.path AND i.gone_at IS NULL AND i.damage IS NULL
             AND i.size_bytes IS l.size_bytes AND i.fingerprint IS l.fingerprint AND (l.content IS NULL OR i.content IS NULL OR i.content = l.content) AND i.shelf_id IN (SELECT value FROM json_each(@shelves)))`,
      )
      .pluck()
      .all({ projectId, shelves: JSON.stringify(attachedShelves) }) as string[];
  }

  /** Bins that clips lie in, each once. */
  binPaths(projectId: string): string[] {
    return this.db.prepare('SELECT DISTINCT bin_path FROM clips WHERE project_id = ?').pluck().all(projectId) as string[];
  }

  /** Shelves that the links of a project's clips name or once named, in order. */
  shelvesLinked(projectId: string): string[] {
    return this.db.prepare('SELECT shelf_id FROM linked_shelves WHERE project_id = ? ORDER BY shelf_id').pluck().all(projectId) as string[];
  }

  idByMediaKey(projectId: string, mediaKey: string): string | null {
    return (
      (this.db.prepare('SELECT id FROM clips WHERE project_id = ? AND media_key = ?').pluck().get(projectId, mediaKey) as string | undefined) ?? null
    );
  }

  /** Of these places, those whose file is a light or finished copy of a clip of any project, and the source of none. */
  copiesAmong(places: readonly Place[]): Place[] {
    return this.db
      .prepare(
        `SELECT w.value ->> 0 AS shelfId, w.value ->> 1 AS path FROM json_each(?) w
         WHERE EXISTS (SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE l.shelf_id = w.value ->> 0 AND l.path = w.value ->> 1 AND r.kind <> 'source')
         AND NOT EXISTS (SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE l.shelf_id = w.value ->> 0 AND l.path = w.value ->> 1 AND r.kind = 'source')`,
      )
      .all(JSON.stringify(places.map(({ shelfId, path }) => [shelfId, path]))) as Place[];
  }

  /** Of the first file it links; null where it is not known. */
  fingerprintOf(clipId: string): string | null {
    const found = this.db
      .prepare(
        `SELECT l.fingerprint FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE r.clip_id = ? AND r.kind = 'source' AND r.part IS NULL ORDER BY l.position LIMIT 1`,
      )
      .pluck()
      .get(clipId);
    return (found as string | null | undefined) ?? null;
  }

  /** Those that no timeline uses and nobody changed since they were made; gives how many went. */
  removeUntouched(clipIds: readonly string[]): number {
    const remove = this.db.prepare(
      'DELETE FROM clips WHERE id = ? AND touched = 0 AND NOT EXISTS (SELECT 1 FROM timeline_events WHERE clip_id = clips.id)',
    );
    return clipIds.reduce((sum, id) => sum + remove.run(id).changes, 0);
  }

  /** Of these, what removeUntouched would take out. */
  untouchedOf(clipIds: readonly string[]): string[] {
    return this.db
      .prepare(
        `SELECT id FROM clips WHERE id IN (SELECT value FROM json_each(?)) AND touched = 0
         AND NOT EXISTS (SELECT 1 FROM timeline_events WHERE clip_id = clips.id)`,
      )
      .pluck()
      .all(JSON.stringify(clipIds)) as string[];
  }

  /** Puts a clip that lies in bin `from` into another; false where it lies elsewhere. Its words are as they were: it is nobody's work. */
  fillBin(projectId: string, clipId: string, from: string, bin: string): boolean {
    return (
      this.db.prepare('UPDATE clips SET bin_path = ? WHERE id = ? AND project_id = ? AND bin_path = ?').run(bin, clipId, projectId, from).changes > 0
    );
  }

  /** A new clip with its renditions, or new words, colour and bin for one that is there: work of the user's; its links stay then. */
  put(projectId: string, clip: Clip): void {
    const marks = clip.marks === null ? null : JSON.stringify(clip.marks);
    const changed = this.db
      .prepare('UPDATE clips SET name = ?, bin_path = ?, note = ?, colour = ?, marks = ?, conform = ?, touched = 1 WHERE id = ? AND project_id = ?')
      .run(clip.name, clip.binPath, clip.note, clip.colour, marks, clip.conform, clip.id, projectId);
    if (changed.changes > 0) return;
    this.db
      .prepare(
        `INSERT INTO clips (id, project_id, name, bin_path, media_key, media_start, set_aside, note, colour, marks, conform, made_by, source_id)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      )
      .run(
        clip.id,
        projectId,
        clip.name,
        clip.binPath,
        clip.mediaKey,
        clip.mediaStart ? JSON.stringify(clip.mediaStart) : null,
        clip.setAside ? 1 : 0,
        clip.note,
        clip.colour,
        marks,
        clip.conform,
        clip.madeBy,
        clip.sourceId ?? clip.id,
      );
    for (const rendition of clip.renditions) this.addRendition(clip.id, rendition);
    for (const part of clip.parts ?? []) this.parts.addPart(clip.id, part);
    for (const copy of clip.partCopies ?? []) this.parts.addCopy(clip.id, copy);
  }

  /** Another rendition of a clip; nothing where there is no such clip any more. */
  addRendition(clipId: string, { id, kind, links, made, cameBy, isSetBack }: Rendition): void {
    const added = this.db
      .prepare('INSERT OR IGNORE INTO renditions (id, clip_id, kind, made, came_by, set_back) SELECT ?, id, ?, ?, ?, ? FROM clips WHERE id = ?')
      .run(id, kind, made ? JSON.stringify(made) : null, cameBy ?? null, isSetBack ? 1 : 0, clipId);
    if (added.changes > 0) links.forEach((link, position) => insertLink(this.db, id, position, link));
  }

  /** Whether a rendition of this kind links the same file, or names the same address. */
  hasRendition(clipId: string, kind: RenditionKind, { place, url }: MediaLink): boolean {
    const found = this.db
      .prepare(
        `SELECT 1 FROM renditions r JOIN links l ON l.rendition_id = r.id
         WHERE r.clip_id = ? AND r.kind = ? AND ((l.shelf_id = ? AND l.path = ?) OR (l.shelf_id IS NULL AND ? IS NULL AND l.url = ?))`,
      )
      .get(clipId, kind, place?.shelfId ?? null, place?.path ?? null, place?.shelfId ?? null, url);
    return found !== undefined;
  }

  /** Gives how many went. The source of a clip never does. */
  removeRenditions(ids: readonly string[]): number {
    const remove = this.db.prepare("DELETE FROM renditions WHERE id = ? AND kind <> 'source'");
    return ids.reduce((sum, id) => sum + remove.run(id).changes, 0);
  }

  /** Sets renditions back, or has them read again; gives those that were the other way round. The source of a clip never is. */
  setBack(ids: readonly string[], isBack: boolean): string[] {
    const set = this.db.prepare("UPDATE renditions SET set_back = ? WHERE id = ? AND set_back = ? AND kind <> 'source'");
    return ids.filter((id) => set.run(isBack ? 1 : 0, id, isBack ? 0 : 1).changes > 0);
  }

  /** How one item of a rendition is linked now. */
  linkAt(renditionId: string, position: number): MediaLink | null {
    const raw = this.rawLink(renditionId, position);
    return raw ? linkFromRaw(raw) : null;
  }

  private rawLink(renditionId: string, position: number): RawLink | undefined {
    return this.db
      .prepare(
        'SELECT r.clip_id, r.id AS rendition_id, r.kind, l.position, l.shelf_id, l.path, l.url, l.expected, l.content FROM links l JOIN renditions r ON r.id = l.rendition_id WHERE l.rendition_id = ? AND l.position = ?',
      )
      .get(renditionId, position) as RawLink | undefined;
  }

  /** The items of a rendition are these from now on. */
  setSourceLinks(renditionId: string, links: readonly MediaLink[]): void {
    this.db.prepare('DELETE FROM links WHERE rendition_id = ?').run(renditionId);
    links.forEach((link, position) => insertLink(this.db, renditionId, position, link));
  }

  /** Points one item of a rendition somewhere else; gives back the link as it was. Null when there is none. */
  relink(renditionId: string, position: number, link: MediaLink): MediaLink | null {
    const old = this.rawLink(renditionId, position);
    if (!old) return null;
    this.db
      .prepare(
        `UPDATE links SET shelf_id = ?, path = ?, url = ?, expected = ?, fingerprint = ?, size_bytes = ?, kind = ?
         WHERE rendition_id = ? AND position = ?`,
      )
      .run(...linkColumns(link), renditionId, position);
    this.db.prepare('UPDATE clips SET touched = 1 WHERE id = ?').run(old.clip_id);
    return linkFromRaw(old);
  }

  /** The file at a place has the same content and a fingerprint made in a newer way. */
  renewPrint(place: Place, old: string, print: string): void {
    this.db
      .prepare(
        `UPDATE links SET fingerprint = @print, expected = json_set(expected, '$.fingerprint', @print)
         WHERE shelf_id = @shelfId AND path = @path AND fingerprint = @old`,
      )
      .run({ shelfId: place.shelfId, path: place.path, old, print });
  }

  /** Every link of a project's clips to a place. */
  linksTo(projectId: string, place: Place): { renditionId: string; position: number; link: MediaLink }[] {
    const rows = this.db
      .prepare(
        `SELECT l.rendition_id, l.position, l.shelf_id, l.path, l.url, l.expected, l.content FROM links l JOIN renditions r ON r.id = l.rendition_id
         JOIN clips c ON c.id = r.clip_id WHERE l.shelf_id = ? AND l.path = ? AND c.project_id = ?`,
      )
      .all(place.shelfId, place.path, projectId) as RawLink[];
    return rows.map((raw) => ({ renditionId: raw.rendition_id, position: raw.position, link: linkFromRaw(raw) }));
  }

  ids(projectId: string): string[] {
    return this.db.prepare('SELECT id FROM clips WHERE project_id = ?').pluck().all(projectId) as string[];
  }

  setAside(projectId: string, clipIds: readonly string[], aside: boolean): number {
    const set = this.db.prepare('UPDATE clips SET set_aside = ?, touched = 1 WHERE project_id = ? AND id = ?');
    return this.db.transaction(() => clipIds.reduce((sum, id) => sum + set.run(aside ? 1 : 0, projectId, id).changes, 0)).immediate();
  }

  /** Clips that no event uses. */
  unused(projectId: string): string[] {
    return this.db
      .prepare('SELECT id FROM clips WHERE project_id = ? AND NOT EXISTS (SELECT 1 FROM timeline_events WHERE clip_id = clips.id)')
      .pluck()
      .all(projectId) as string[];
  }

  remove(clipIds: readonly string[]): void {
    const remove = this.db.prepare('DELETE FROM clips WHERE id = ?');
    for (const id of clipIds) remove.run(id);
  }

  /** Clips that removeUnused would take out once these timelines are gone. */
  goingWith(timelineIds: readonly string[]): Set<string> {
    const ids = this.db
      .prepare(
        `SELECT DISTINCT c.id FROM clips c JOIN timeline_events e ON e.clip_id = c.id
         WHERE e.timeline_id IN (SELECT value FROM json_each(@ids)) AND c.made_by = 'timeline' AND c.touched = 0
         AND NOT EXISTS (SELECT 1 FROM timeline_events o WHERE o.clip_id = c.id AND o.timeline_id NOT IN (SELECT value FROM json_each(@ids)))`,
      )
      .pluck()
      .all({ ids: JSON.stringify(timelineIds) }) as string[];
    return new Set(ids);
  }

  /** Takes out clips that came with a timeline and that no event uses any more, out of `clipIds`; those the user worked on stay. */
  removeUnused(clipIds: readonly string[]): void {
    const remove = this.db.prepare(
      `DELETE FROM clips WHERE id = ? AND made_by = 'timeline' AND touched = 0
       AND NOT EXISTS (SELECT 1 FROM timeline_events WHERE clip_id = clips.id)`,
    );
    this.db.transaction(() => clipIds.forEach((id) => remove.run(id))).immediate();
  }

  /** Copies every clip of a project into another; returns old id → new id. */
  duplicate(fromProject: string, toProject: string, newId: () => string): Map<string, string> {
    const ids = new Map<string, string>();
    for (const clip of this.ofProject(fromProject)) {
      const id = newId();
      ids.set(clip.id, id);
      const { sourceId = clip.id, renditions, parts = [], partCopies = [] } = clip;
      const anew = <Own extends { readonly id: string }>(own: Own): Own => ({ ...own, id: newId() });
      this.put(toProject, { ...clip, id, sourceId, renditions: renditions.map(anew), parts: parts.map(anew), partCopies: partCopies.map(anew) });
    }
    return ids;
  }
}
