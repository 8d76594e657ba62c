/** The JSON of OpenTimelineIO as it stands in a document; everything not named here is kept as it is. */

export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
export type OtioObject = { [key: string]: Json };

/** Timelines within timelines that are read: what lies deeper is left as it is. */
export const DEEPEST_NESTING = 64;

/** "Clip.2" → "Clip". Empty for what carries no schema. */
export function schemaName(node: unknown): string {
  if (!isObject(node) || typeof node.OTIO_SCHEMA !== 'string') return '';
  const point = node.OTIO_SCHEMA.indexOf('.');
  return point < 0 ? node.OTIO_SCHEMA : node.OTIO_SCHEMA.slice(0, point);
}

export function isObject(node: unknown): node is OtioObject {
  return typeof node === 'object' && node !== null && !Array.isArray(node);
}

export function childrenOf(node: OtioObject): Json[] {
  return Array.isArray(node.children) ? node.children : [];
}

/** Named references of a clip, of either version: Clip.1 has one `media_reference`, Clip.2 several. */
export function referencesOf(clip: OtioObject): { key: string; node: OtioObject }[] {
  const several = clip.media_references;
  if (isObject(several)) {
    const out: { key: string; node: OtioObject }[] = [];
    for (const key of Object.keys(several)) {
      const node = several[key];
      if (isObject(node)) out.push({ key, node });
    }
    return out;
  }
  return isObject(clip.media_reference) ? [{ key: 'DEFAULT_MEDIA', node: clip.media_reference }] : [];
}
