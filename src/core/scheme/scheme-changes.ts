/** What is different between two states of one scheme. */
import type { Rule } from './rule';
import { allFolders, REST, type Scheme } from './scheme';

export interface FolderState {
  /** Names from the top down to the folder itself. */
  readonly way: readonly string[];
  readonly rule: Rule | null;
  /** Place among those beside it that stand in both, from 0. */
  readonly at: number;
}

/** One folder in both; null: not in that one. */
export interface FolderPair {
  readonly id: string;
  readonly one: FolderState | null;
  readonly other: FolderState | null;
  readonly isSame: boolean;
}

function statesOf(scheme: Scheme, isInBoth: (id: string) => boolean): Map<string, FolderState> {
  const states = new Map<string, FolderState>();
  for (const { id, way } of allFolders(scheme.folders)) {
    const beside = (way.at(-2)?.folders ?? scheme.folders).filter((folder) => isInBoth(folder.id));
    states.set(id, { way: way.map(({ name }) => name), rule: way.at(-1)!.rule, at: beside.findIndex((folder) => folder.id === id) });
  }
  // What no rule takes stands last, without a rule or a place of its own.
  return states.set(REST, { way: [scheme.rest], rule: null, at: 0 });
}

/** A text that is the same for the same rule, whatever the order of its keys. */
function ruleText(rule: Rule | null): string {
  return JSON.stringify(rule && Object.entries(rule).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function isSame(one: FolderState | null, other: FolderState | null): boolean {
  if (!one || !other) return false;
  return one.way.join('\0') === other.way.join('\0') && one.at === other.at && ruleText(one.rule) === ruleText(other.rule);
}

/** Every folder of either, in the order of the first; what only the second has comes behind. */
export function folderPairs(one: Scheme, other: Scheme): FolderPair[] {
  const idsOf = ({ folders }: Scheme) => new Set(allFolders(folders).map(({ id }) => id));
  const [here, there] = [idsOf(one), idsOf(other)];
  const isInBoth = (id: string) => here.has(id) && there.has(id);
  const [own, others] = [statesOf(one, isInBoth), statesOf(other, isInBoth)];
  return [...new Set([...own.keys(), ...others.keys()])].map((id) => {
    const pair = { one: own.get(id) ?? null, other: others.get(id) ?? null };
    return { id, ...pair, isSame: isSame(pair.one, pair.other) };
  });
}

export function isSameScheme(one: Scheme, other: Scheme): boolean {
  return one.name === other.name && one.about === other.about && folderPairs(one, other).every((pair) => pair.isSame);
}

/** The change from one to another in a few words, for who takes it back. */
export function changeWords(before: Scheme, after: Scheme): string {
  if (before.name !== after.name) return 'the name of the scheme';
  const pairs = folderPairs(before, after).filter((pair) => !pair.isSame);
  const added = pairs.find(({ one }) => one === null);
  const removed = pairs.find(({ other }) => other === null);
  if (added && removed) return 'changes of folders';
  if (added) return `the new folder "${added.other!.way.at(-1)!}"`;
  if (removed) return `removing "${removed.one!.way.at(-1)!}"`;
  const first = pairs.find(({ one, other }) => ruleText(one!.rule) !== ruleText(other!.rule));
  if (first) return `the rule of "${first.other!.way.at(-1)!}"`;
  const renamed = pairs.find(({ one, other }) => one!.way.length === other!.way.length && one!.way.at(-1) !== other!.way.at(-1));
  if (renamed) return `the name of "${renamed.other!.way.at(-1)!}"`;
  return pairs.length > 0 ? `the place of "${pairs[0]!.other!.way.at(-1)!}"` : 'a change';
}
