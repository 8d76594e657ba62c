/** A timeline as it is handed on: no link leads out of its package, and nothing tells in which folders its house keeps things. */
import { isObject, schemaName, type Json, type OtioObject } from './otio-types';
import { readAddress } from './target-url';

export interface HandedOn {
  readonly document: OtioObject;
  /** Names of the files whose links led out, each once. */
  readonly unlinked: readonly string[];
  /** Texts of metadata that named a folder and are a file's name alone now. */
  readonly shortened: number;
}

const REFERENCES = new Set(['ExternalReference', 'ImageSequenceReference', 'MissingReference']);
/** A plain path with a root: it ends in a file, or stands under a key that says so. */
const ROOTED = /^\/[^/\r\n]+(?:\/[^/\r\n]+)+\/?$/;
const WITH_ENDING = /\.[A-Za-z0-9]{1,8}$/;
const PATH_KEYS = /path|url|uri|file|folder|directory|location|volume/i;
const OTHER_ROOTS = /^(?:file:|[A-Za-z]:[\\/]|\\\\[^\\])/i;

/**
 * `isInside`: whether a link leads to something in the package. Links that do not become the bare name of their file, which
 * other houses look for by that name, or what `instead` makes of the reference; what is said of the media stays.
 */
export function handedOn(
  document: OtioObject,
  isInside: (url: string) => boolean,
  instead: (reference: OtioObject) => OtioObject = bareName,
): HandedOn {
  const unlinked = new Set<string>();
  let shortened = 0;
  const visit = (node: Json, key: string): Json => {
    if (typeof node === 'string') {
      const short = withoutFolders(node, key);
      if (short !== node) shortened++;
      return short;
    }
    if (Array.isArray(node)) return node.map((child) => visit(child, key));
    if (!isObject(node)) return node;
    const own = REFERENCES.has(schemaName(node)) || typeof node.target_url === 'string' ? reference(node) : node;
    const out: OtioObject = {};
    for (const name of Object.keys(own)) out[name] = isLink(own, name) ? own[name]! : visit(own[name]!, name);
    return out;
  };
  const reference = (node: OtioObject): OtioObject => {
    const url = node.target_url ?? node.target_url_base;
    if (typeof url !== 'string' || url === '' || isInside(url)) return node;
    unlinked.add(fileOf(node) || text(node.name) || 'unnamed media');
    return instead(node);
  };
  return { document: visit(document, '') as OtioObject, unlinked: [...unlinked], shortened };
}

/** Name of the file that a reference leads to; of a sequence what its frames' names have in common. */
function fileOf(reference: OtioObject): string {
  if (reference.target_url_base !== undefined) return `${text(reference.name_prefix)}…${text(reference.name_suffix)}`;
  return readAddress(text(reference.target_url))?.segments.at(-1) ?? '';
}

function bareName(reference: OtioObject): OtioObject {
  return reference.target_url_base === undefined
    ? { ...reference, target_url: encodeURIComponent(fileOf(reference)) }
    : { ...reference, target_url_base: '' };
}

/** A reference that says its media is missing, with the name of its file. */
export function missingReference(old: OtioObject): OtioObject {
  return {
    OTIO_SCHEMA: 'MissingReference.1',
    metadata: isObject(old.metadata) ? old.metadata : {},
    name: text(old.name) || fileOf(old),
    available_range: old.available_range ?? null,
    available_image_bounds: null,
  };
}

function isLink(node: OtioObject, key: string): boolean {
  return (key === 'target_url' || key === 'target_url_base') && typeof node[key] === 'string';
}

function text(value: Json | undefined): string {
  return typeof value === 'string' ? value : '';
}

/** The file's name of a text that is a whole address on some machine; any other text as it is. */
function withoutFolders(words: string, key: string): string {
  const trimmed = words.trim();
  const isAddress = OTHER_ROOTS.test(trimmed) || (ROOTED.test(trimmed) && (WITH_ENDING.test(trimmed) || PATH_KEYS.test(key)));
  if (!isAddress || /[\r\n]/.test(trimmed)) return words;
  const name = readAddress(trimmed)?.segments.at(-1) ?? '';
  return name === trimmed ? words : name;
}
