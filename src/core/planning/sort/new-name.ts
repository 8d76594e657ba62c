/** The name a file gets, before others of its folder are looked at. */
import { stemOf } from '../../media/card';
import { portablePrefix } from '../../naming/safe-name';
import { safeName } from '../../naming/name-level';
import { readPattern, renderPattern, usesNumber, type Pattern } from '../../scheme/pattern';
import type { SequenceFacts } from '../../media/item';
import type { SortSettings } from './settings';
import type { SortInput } from './sort-input';
import { tokenValues } from './target-folder';
import { factsOf, type Unit } from './units';
import type { Item } from '../../media/item';

/** A name with a place for its number, or as it is. */
export interface WantedName {
  readonly stem: (number: number) => string;
  readonly extension: string;
  /** Whether the pattern numbers the files of a folder. */
  readonly isNumbered: boolean;
}

export function extensionOf(name: string): string {
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(dot) : '';
}

/** A pattern for names, or null where files keep theirs or take their clip's. */
export function namePattern({ names }: SortSettings): Pattern | { readonly problem: string } | null {
  if (names.from !== 'pattern') return null;
  if (names.pattern.trim() === '') return { problem: 'Type a pattern for the names.' };
  return readPattern(names.pattern);
}

/** Of one file that is no member of a folder kept whole. */
export function wantedName(unit: Unit, item: Item, input: SortInput, settings: SortSettings): WantedName {
  const facts = factsOf(unit, item, input);
  const { from, level } = settings.names;
  const extension = item.facts.sequence ? '' : extensionOf(facts.name);
  const fixed = (stem: string): WantedName => ({ stem: () => stemOfSafe(stem, extension, level), extension, isNumbered: false });
  const own = item.facts.sequence ? prefixStem(item.facts.sequence) : extension === '' ? facts.name : stemOf(facts.name);
  const { clip } = tokenValues(facts, input, settings);
  if (from === 'clip') return fixed(clip ? withoutExtension(clip, extension) : own);
  const pattern = namePattern(settings);
  if (!pattern || 'problem' in pattern) return fixed(own);
  const known = tokenValues(facts, input, settings);
  const values = item.facts.sequence && !item.originalName ? { ...known, original: own } : known;
  return {
    stem: (number) => stemOfSafe(renderPattern(pattern, values, number).trim(), extension, level),
    extension,
    isNumbered: usesNumber(pattern),
  };
}

function stemOfSafe(stem: string, extension: string, level: SortSettings['names']['level']): string {
  const safe = safeName(`${stem}${extension}`, level);
  return extension !== '' && safe.endsWith(safeTail(extension, level)) ? safe.slice(0, safe.length - safeTail(extension, level).length) : safe;
}

export function safeTail(extension: string, level: SortSettings['names']['level']): string {
  return extension === '' ? '' : safeName(`a${extension}`, level).slice(1);
}

/** Clips are often called after their file. */
function withoutExtension(name: string, extension: string): string {
  return extension !== '' && name.toLowerCase().endsWith(extension.toLowerCase()) ? name.slice(0, -extension.length) : name;
}

/** What frames are called before their number, without the sign that parts them. */
export function prefixStem({ prefix }: SequenceFacts): string {
  let end = prefix.length;
  while (end > 0 && '._- ['.includes(prefix[end - 1]!)) end--;
  return prefix.slice(0, end) || 'frames';
}

/** Frames of a new name: their numbers stay. */
export function renamedSequence(facts: SequenceFacts, stem: string, keepsName: boolean): SequenceFacts {
  if (keepsName) return { ...facts, prefix: portablePrefix(facts.prefix) };
  const between = facts.prefix.slice(prefixStem(facts) === 'frames' ? 0 : prefixStem(facts).length) || '.';
  return { ...facts, prefix: portablePrefix(`${stem}${between}`) };
}
