/** A scheme: the standard folders of a house, with the rule for what goes where. */
import { portableName } from '../naming/safe-name';
import { stops, warns, type Finding } from '../words/finding';
import { readPattern, type Pattern } from './pattern';
import { contradiction, fitsRule, type Rule, type SortFacts } from './rule';

export interface SchemeFolder {
  /** Of this folder within its scheme; never REST. */
  readonly id: string;
  /** One name, with tokens. */
  readonly name: string;
  /** What it takes; null: only what the folders in it take. */
  readonly rule: Rule | null;
  readonly folders: readonly SchemeFolder[];
}

export interface Scheme {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly folders: readonly SchemeFolder[];
  /** Name of the folder for what no rule takes, with tokens. */
  readonly rest: string;
}

/** Stands for the folder of what no rule takes. */
export const REST = 'rest';

/** A folder with those it lies in, the outermost first. */
export interface FolderWay {
  readonly id: string;
  readonly way: readonly SchemeFolder[];
}

/** Every folder from top to bottom, those in it after it. */
export function allFolders(folders: readonly SchemeFolder[], above: readonly SchemeFolder[] = []): FolderWay[] {
  return folders.flatMap((folder) => {
    const way = [...above, folder];
    return [{ id: folder.id, way }, ...allFolders(folder.folders, way)];
  });
}

/**
 * The folder whose rule takes the file: the first from top to bottom. What a folder takes goes into the first of its own
 * folders that takes it too. Null where no rule does.
 */
export function folderFor(folders: readonly SchemeFolder[], facts: SortFacts): SchemeFolder | null {
  for (const folder of folders) {
    if (folder.rule !== null && !fitsRule(folder.rule, facts)) continue;
    const inner = folderFor(folder.folders, facts);
    if (inner) return inner;
    if (folder.rule !== null) return folder;
  }
  return null;
}

/** The patterns of a scheme's names by folder id, REST among them; of those that cannot be read what is wrong. */
export function schemePatterns(scheme: Scheme): { patterns: Map<string, Pattern>; problems: Map<string, string> } {
  const patterns = new Map<string, Pattern>();
  const problems = new Map<string, string>();
  const enter = (id: string, name: string) => {
    const pattern = readPattern(name);
    if ('problem' in pattern) problems.set(id, pattern.problem);
    else if (name.trim() === '') problems.set(id, 'It has no name.');
    else if (/[/\\]/.test(name)) problems.set(id, 'A name holds no slash: folders in folders are made in the tree.');
    else if (name.trim() === '.' || name.trim() === '..') problems.set(id, 'This name stands for another folder.');
    else patterns.set(id, pattern);
  };
  for (const { id, way } of allFolders(scheme.folders)) enter(id, way.at(-1)!.name);
  enter(REST, scheme.rest);
  return { patterns, problems };
}

/** What is wrong with a scheme before any file is looked at. */
export function schemeFindings(scheme: Scheme): Finding[] {
  const findings: Finding[] = [];
  const { problems } = schemePatterns(scheme);
  const ways = allFolders(scheme.folders);
  const nameOf = (id: string) => (id === REST ? scheme.rest : (ways.find((entry) => entry.id === id)?.way.at(-1)?.name ?? id));
  for (const [id, problem] of problems)
    findings.push(stops('scheme-name', `The folder "${nameOf(id)}" cannot be named: ${problem}`, 'Change its name in the scheme.', id));
  const ids = [REST, ...ways.map(({ id }) => id)];
  if (new Set(ids).size < ids.length) findings.push(stops('scheme-twice', 'Two folders of the scheme have one id.', 'Import the scheme again.'));
  for (const { id, way } of ways) findings.push(...folderFindings(id, way));
  for (const siblings of [scheme.folders, ...ways.map(({ way }) => way.at(-1)!.folders)]) findings.push(...siblingFindings(siblings));
  return findings;
}

function folderFindings(id: string, way: readonly SchemeFolder[]): Finding[] {
  const folder = way.at(-1)!;
  if (folder.rule === null) return [];
  for (const outer of way.slice(0, -1)) {
    const why = outer.rule && contradiction(outer.rule, folder.rule);
    if (why)
      return [
        warns('scheme-contradiction', `"${folder.name}" in "${outer.name}" takes nothing: ${why}.`, 'Change one rule, or move the folder.', id),
      ];
  }
  return [];
}

/** Of folders side by side: one name twice, and what stands behind one that leaves nothing. */
function siblingFindings(folders: readonly SchemeFolder[]): Finding[] {
  const findings: Finding[] = [];
  const names = new Map<string, string>();
  let greedy: SchemeFolder | null = null;
  for (const folder of folders) {
    const key = portableName(folder.name).toLowerCase();
    if (names.has(key))
      findings.push(
        warns('scheme-same-name', `"${names.get(key)!}" and "${folder.name}" are one folder.`, 'Give one of them another name.', folder.id),
      );
    names.set(key, folder.name);
    if (greedy && folder.rule !== null)
      findings.push(
        warns(
          'scheme-never',
          `"${folder.name}" takes nothing: "${greedy.name}" before it takes everything.`,
          `Put it before "${greedy.name}".`,
          folder.id,
        ),
      );
    if (folder.rule !== null && Object.values(folder.rule).every((value) => value === undefined)) greedy = folder;
  }
  return findings;
}
