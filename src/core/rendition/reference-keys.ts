/** Timelines name several references of a clip by keys of their own: which rendition a key speaks of. */
import { foldPath } from '../naming/fold-path';
import type { RenditionKind } from './read-order';

type NamedKind = Exclude<RenditionKind, 'source'>;

const WORDS: Readonly<Record<NamedKind, readonly string[]>> = {
  proxy: ['proxy', 'proxies'],
  mezzanine: ['mezzanine'],
  finished: ['finished', 'graded'],
};

/** Null: the source, or nothing that is known. */
export function renditionOfKey(key: string): NamedKind | null {
  const words = foldPath(key).split(/[^a-z]+/);
  return (Object.keys(WORDS) as NamedKind[]).find((kind) => words.some((word) => WORDS[kind].includes(word))) ?? null;
}

/** The active reference, or, where that names another rendition, the first one beside it that does not. */
export function sourceReference<Reference extends { readonly key: string }>(references: readonly Reference[], activeKey: string): Reference | null {
  const active = references.find(({ key }) => key === activeKey) ?? references[0] ?? null;
  if (!active || renditionOfKey(active.key) === null) return active;
  return references.find(({ key }) => renditionOfKey(key) === null) ?? active;
}
