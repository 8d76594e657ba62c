/** Reading XML of others: iXML, camera sidecars, hash lists. Entities are left as they stand, attributes are not looked at. */
import { XMLParser } from 'fast-xml-parser';

/** Signs; what recorders and cameras write has a tenth of it. */
const LARGEST_XML = 128 * 1024;
/** Elements within each other; none of the formats read here goes deeper than ten. */
const DEEPEST_XML = 100;

const parser = new XMLParser({
  processEntities: false,
  htmlEntities: false,
  ignoreAttributes: true,
  // Everything is text: reel "0042" is no number.
  parseTagValue: false,
  trimValues: true,
  maxNestedTags: DEEPEST_XML,
});

/** The elements of a document by their names; null for what is no XML, is too large or too deep. */
export function readXml(text: string): unknown {
  // Chunks are padded with zeros.
  const padding = text.indexOf('\0');
  const clean = padding < 0 ? text : text.slice(0, padding);
  if (clean.length > LARGEST_XML || !clean.includes('<')) return null;
  try {
    return parser.parse(clean);
  } catch {
    return null;
  }
}

/** Text of the first element of that name, wherever it stands; null where there is none, or one that holds others. */
export function elementText(document: unknown, name: string): string | null {
  if (typeof document !== 'object' || document === null) return null;
  for (const [key, value] of Object.entries(document)) {
    if (key === name && typeof value === 'string') return value === '' ? null : value;
    const inside = elementText(value, name);
    if (inside !== null) return inside;
  }
  return null;
}
