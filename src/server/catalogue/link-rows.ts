/** Links as rows of the catalogue. */
import { wholeSum, type Expected, type MediaLink, type RenditionKind } from '../../core/project/clip';
import type { Db } from './db';

export interface RawLink {
  clip_id: string;
  rendition_id: string;
  kind: RenditionKind;
  position: number;
  shelf_id: string | null;
  path: string | null;
  url: string;
  expected: string;
  content: string | null;
}

export function linkFromRaw(raw: Pick<RawLink, 'shelf_id' | 'path' | 'url' | 'expected' | 'content'>): MediaLink {
  return {
    place: raw.shelf_id !== null && raw.path !== null ? { shelfId: raw.shelf_id, path: raw.path } : null,
    url: raw.url,
    // What became known of it since is remembered with it, wherever the link goes from here.
    expected: { ...wholeSum(raw.content), ...(JSON.parse(raw.expected) as Expected) },
    ...(raw.content === null ? {} : { content: raw.content }),
  };
}

export function linkColumns({ place, url, expected }: MediaLink): (string | number | null)[] {
  const { fingerprint, sizeBytes, kind } = expected;
  return [place?.shelfId ?? null, place?.path ?? null, url, JSON.stringify(expected), fingerprint, sizeBytes, kind];
}

export function insertLink(db: Db, renditionId: string, position: number, link: MediaLink): void {
  db.prepare(
    'INSERT INTO links (rendition_id, position, shelf_id, path, url, expected, fingerprint, size_bytes, kind) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
  ).run(renditionId, position, ...linkColumns(link));
}
