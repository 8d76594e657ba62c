/** Items as rows of the catalogue. */
import type { FileIdentity } from '../../core/media/identity';
import type { Item } from '../../core/media/item';
import { factsFromJson } from './item-facts';

export interface RawItem {
  id: string;
  shelf_id: string;
  path: string;
  size_bytes: number;
  modified_ms: number;
  fingerprint: string | null;
  facts: string;
  problem: string | null;
  identity: string | null;
  facts_version: number;
  sha256: string | null;
  original_name: string | null;
  content: string | null;
  damage: string | null;
}

export function itemFromRaw(raw: RawItem): Item {
  return {
    id: raw.id,
    place: { shelfId: raw.shelf_id, path: raw.path },
    sizeBytes: raw.size_bytes,
    modifiedMs: raw.modified_ms,
    fingerprint: raw.fingerprint,
    facts: factsFromJson(raw.facts),
    problem: raw.problem,
    identity: raw.identity === null ? null : (JSON.parse(raw.identity) as FileIdentity),
    ...(raw.damage === null ? {} : { damage: raw.damage }),
    ...(raw.sha256 === null ? {} : { sha256: raw.sha256 }),
    ...(raw.content === null ? {} : { content: raw.content }),
    ...(raw.original_name === null ? {} : { originalName: raw.original_name }),
  };
}

/** Columns that make an item; the others are there to find it by. */
export const COLUMNS = [
  'id',
  'shelf_id',
  'path',
  'size_bytes',
  'modified_ms',
  'fingerprint',
  'facts',
  'problem',
  'identity',
  'facts_version',
  'damage',
];
export const OWN_COLUMNS = [...COLUMNS, 'sha256', 'original_name', 'content'].join(', ');
