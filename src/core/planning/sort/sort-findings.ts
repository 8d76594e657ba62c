/** What is to be read before a sort runs. */
import { isWithin } from '../../naming/within';
import { fileName, joinPath, placeKey, type Place } from '../../media/item';
import { LONGEST_WINDOWS_PATH } from '../../naming/name-level';
import { utf8Length } from '../../naming/utf8-length';
import { schemeFindings } from '../../scheme/scheme';
import { readPattern } from '../../scheme/pattern';
import { asks, notes, stops, warns, type Finding } from '../../words/finding';
import { fewNames, formatCount, plural, oneOrMany } from '../../words/figures';
import { blockedBy, destinationProblem, hiddenProblem } from '../plan/destination';
import { namePattern } from './new-name';
import { COPIED_BEFORE, type Placement } from './placing';
import { secondFindings } from './second-copy';
import type { SortSettings } from './settings';
import type { SortInput } from './sort-input';
import { deadRules, type SortRow } from './sort-rows';
import { rootFolder } from './target-folder';

interface Seen {
  readonly input: SortInput;
  readonly settings: SortSettings;
  readonly placements: readonly Placement[];
  readonly rows: readonly SortRow[];
  readonly needsBytes: number;
}

/** Bytes of a path that Linux takes at most (PATH_MAX), less what stands before a shelf. */
const LONGEST_PATH_BYTES = 3_800;
const LONGEST_NAME_BYTES = 255;

export function sortFindings(seen: Seen): Finding[] {
  return [
    ...nestedFindings(seen),
    ...destinationFindings(seen),
    ...secondDestinationFindings(seen),
    ...namingFindings(seen),
    ...(seen.settings.structure === 'scheme' ? ruleFindings(seen) : []),
    ...fileFindings(seen),
    ...paperFindings(seen),
    ...wholeFindings(seen),
    ...notHeldFindings(seen),
    ...elsewhereFindings(seen),
  ];
}

function destinationFindings({ input, settings, needsBytes }: Seen): Finding[] {
  const { destination } = settings;
  const problem = destinationProblem(input.shelves, destination?.shelfId ?? '', needsBytes, ' or fewer clips');
  if (problem || !destination)
    return blockedBy(
      problem?.code === 'destination-full' ? { ...problem, hint: 'Choose another shelf, sort less, or move instead of copying.' } : problem,
    );
  const root = rootFolder(input, settings);
  const read = readPattern(settings.rootName);
  if ('problem' in read) return [stops('root-name', `The project's own folder cannot be named: ${read.problem}`, 'Change its name.')];
  if (root === '') return [asks('no-folder-name', 'The project has no folder of its own.', 'Name it, so that projects never mix.')];
  return [...placeFindings(input, { ...destination, path: joinPath(destination.path, root) }), ...writerFindings(input)];
}

/** Clips of this house follow what is moved; those of another do not. */
function elsewhereFindings({ input: { readElsewhere = [] } }: Seen): Finding[] {
  return readElsewhere.map(
    (name) =>
    warns('read-elsewhere', `Another Mill Shelf, on ${name}, reads files in the folders that would be sorted.`, 'Its clips would be offline after a move. Ask there first, or copy instead.'), // prettier-ignore
  );
}

/** What is moved on one shelf is missed on the other. */
function nestedFindings({ input, settings, placements }: Seen): Finding[] {
  if (settings.action !== 'move') return [];
  const used = new Set([settings.destination?.shelfId, ...placements.flatMap(({ unit }) => unit.members.map(({ place }) => place.shelfId))]);
  const nested = input.nested.find(({ outer, inner }) => used.has(outer) || used.has(inner));
  if (!nested) return [];
  const name = (id: string) => input.shelves.find((shelf) => shelf.id === id)?.name ?? 'a shelf';
  const [outer, inner] = [name(nested.outer), name(nested.inner)];
  return [
    stops(
      'nested-shelves',
      `${inner} lies inside ${outer}, and both are on the list: files on both have two entries.`,
      `Take ${inner} off the list, then sort.`,
    ),
  ];
}

/** Codes of the same findings for the second copy. */
const SECOND = {
  'destination-gone': 'second-destination-gone',
  'destination-unplugged': 'second-destination-unplugged',
  'destination-read-only': 'second-destination-read-only',
  'destination-full': 'second-destination-full',
  'no-destination': 'second-destination-gone',
} as const;

function secondDestinationFindings({ input, settings, needsBytes }: Seen): Finding[] {
  const { second, action } = settings;
  const root = rootFolder(input, settings);
  if (!second || action !== 'copy' || !settings.destination || root === '') return [];
  const problem = destinationProblem(input.shelves, second.shelfId, needsBytes, ' or fewer clips');
  const more = [...placeFindings(input, { ...second, path: joinPath(second.path, root) }), ...secondFindings(input, settings, root)];
  return problem ? [stops(SECOND[problem.code], `The second copy: ${problem.message}`, 'Choose another shelf for it, or none.')] : more; // prettier-ignore
}

/** Another instance has half-made files of its own where this one would write. */
function writerFindings({ otherWriter, shelves }: SortInput): Finding[] {
  if (!otherWriter) return [];
  const shelf = shelves.find(({ id }) => id === otherWriter.shelfId)?.name ?? 'the shelf';
  return [warns('other-writer', `Another Mill Shelf writes into ${otherWriter.path} on ${shelf} just now.`, 'Let it come to its end first, then look at this plan again.')]; // prettier-ignore
}

/** Of a folder that files go to. */
function placeFindings(input: SortInput, { shelfId, path }: Place): Finding[] {
  const hidden = hiddenProblem(path);
  if (hidden) return blockedBy(hidden);
  if (input.onCard.has(shelfId) || input.cards.around(`${path}/x`))
    return [stops('destination-on-card', 'The destination lies on a camera card, which stays whole.', 'Choose another folder.')];
  const sealed = input.sealed.find(({ place }) => place.shelfId === shelfId && isWithin(path, place.path));
  if (sealed) return [stops('destination-in-crate', `The destination lies in the crate ${sealed.name}, which is sealed.`, 'Choose another folder.')];
  return [];
}

function namingFindings({ settings, rows }: Seen): Finding[] {
  const findings: Finding[] = [];
  const pattern = namePattern(settings);
  if (pattern && 'problem' in pattern) {
    const empty = settings.names.pattern.trim() === '';
    return [
      (empty ? asks : stops)(
        'name-pattern',
        empty ? 'There is no pattern for the names yet.' : `The pattern for names cannot be read: ${pattern.problem}`,
        'Change the pattern.',
      ),
    ];
  }
  const going = rows.filter(({ stays }) => stays === null);
  if (pattern && going.length > 1 && !pattern.parts.some((part) => 'token' in part))
    findings.push(
      warns(
        'one-name',
        `The pattern gives all ${formatCount(going.length)} files one name: they would be told apart by numbers alone.`,
        'Put {original}, {clip} or {n:4} into it.',
      ),
    );
  const numbered = going.filter(({ renamed }) => renamed.includes('another file has this name')).length;
  if (numbered > 0)
    findings.push(
      notes(
        'same-name',
        `${plural(numbered, 'file has', 'files have')} the name of another: ${settings.clashes === 'number' ? 'numbers set them apart' : `reel or day, else numbers, set them apart`}.`,
      ),
    );
  const paths = going.map((row) => joinPath(row.folder, row.newName));
  const tooLong = paths.filter(
    (path) => utf8Length(path) > LONGEST_PATH_BYTES || path.split('/').some((name) => utf8Length(name) > LONGEST_NAME_BYTES),
  );
  if (tooLong.length > 0)
    findings.push(
      stops(
        'path-too-long',
        `${formatCount(tooLong.length)} paths are longer than a file system takes: ${fileName(tooLong[0]!)} is the first.`,
        'Use fewer folders in folders, or shorter names.',
      ),
    );
  const classic = settings.names.level === 'here' ? [] : paths.filter((path) => path.length > LONGEST_WINDOWS_PATH);
  if (classic.length > 0 && tooLong.length === 0)
    findings.push(
      warns(
        'path-long',
        `${formatCount(classic.length)} paths are longer than ${LONGEST_WINDOWS_PATH} signs: older programs on Windows cannot open them.`,
        'Use fewer folders in folders, or shorter names.',
      ),
    );
  if (settings.equalAsOne) {
    const equal = rows.filter(({ stays }) => stays?.startsWith('equal to ')).length;
    if (equal > 0)
      findings.push(
        notes(
          'equal',
          `${plural(equal, 'file is', 'files are')} equal to another byte for byte: clips read that one, and the others stay where they are.`,
        ),
      );
  }
  return findings;
}

function ruleFindings({ input, settings, placements, rows }: Seen): Finding[] {
  const findings = schemeFindings(settings.scheme);
  for (const { id, name, takenBefore } of deadRules(settings.scheme, placements, input))
    findings.push(
      warns(
        'rule-behind',
        `"${name}" gets nothing: ${plural(takenBefore, 'file that fits goes', 'files that fit go')} to a folder before it.`,
        'The first rule that fits wins: move the folder up.',
        id,
      ),
    );
  const rest = rows.filter(({ folderId, stays }) => folderId === 'rest' && stays === null).length;
  if (rest > 0)
    findings.push(
      warns(
        'no-rule',
        `${plural(rest, 'file fits', 'files fit')} no rule.`,
        `They go to "${settings.scheme.rest}". Drag them to a folder, or change a rule.`,
      ),
    );
  const known = new Set(placements.map(({ unit }) => unit.id));
  const lost = settings.exceptions.filter(({ unitId }) => !known.has(unitId)).length;
  if (lost > 0)
    findings.push(notes('exception-gone', `${lost} of the files moved by hand ${oneOrMany(lost, 'is', 'are')} not among what is sorted now.`));
  return findings;
}

/** Documents, looks, lists in folders that all media leaves. */
function paperFindings({ input, placements }: Seen): Finding[] {
  const going = new Set(placements.flatMap(({ unit, files }) => (files.length > 0 ? unit.members.map(({ place }) => placeKey(place)) : [])));
  // What lies straight beside media is told of there.
  const beside = new Set(input.papers.length === 0 ? [] : input.items.map(({ place }) => placeKey(place)));
  return input.papers.flatMap(({ folder, paths }) => {
    const left = paths.filter((path) => !going.has(placeKey({ ...folder, path })) && !beside.has(placeKey({ ...folder, path })));
    if (left.length === 0) return [];
    const shelf = input.shelves.find(({ id }) => id === folder.shelfId)?.name ?? 'its shelf';
    return [
      notes(
        'papers-stay',
        `All media leaves ${folder.path} on ${shelf}. ${fewNames(left.map((path) => fileName(path)))} ${oneOrMany(left.length, 'stays', 'stay')} there.`,
        'Sort the folder instead of the project to take everything in it.',
        folder.path,
      ),
    ];
  });
}

/** A folder that would not be whole any more does not move. */
function wholeFindings({ input, settings, placements }: Seen): Finding[] {
  const going = new Set(placements.flatMap(({ unit, stays }) => (unit.root && stays === null ? [placeKey(unit.root)] : [])));
  const troubles = input.cannotGo.filter(({ root }) => going.has(placeKey(root)));
  return [...new Set(troubles.map(({ root }) => placeKey(root)))].map((key) => {
    const own = troubles.filter(({ root }) => placeKey(root) === key);
    const { root, place, why } = own[0]!;
    const name = fileName(root.path);
    const what = `${place.path === root.path ? 'the folder' : place.path.slice(root.path.length + 1)} ${why}${own.length > 1 ? `, and ${formatCount(own.length - 1)} more cannot go along` : ''}`;
    return settings.action === 'move'
      ? stops('whole-cannot', `${name} cannot be moved whole: ${what}.`, 'Mend that on the drive, or copy the folder instead of moving it.', name)
      : warns('whole-cannot', `${name} is not copied whole: ${what}.`, 'It stays where it is, so nothing is lost.', name);
  });
}

/** What a destination on another disk cannot hold of what is copied to it. */
function notHeldFindings({ input, settings, placements }: Seen): Finding[] {
  return [...input.notHeld].flatMap(([shelfId, words]) => {
    const isWritten = placements.some(({ files }) => files.some(({ member }) => settings.action === 'copy' || input.volumes.get(member.place.shelfId) !== input.volumes.get(shelfId))); // prettier-ignore
    const name = input.shelves.find(({ id }) => id === shelfId)?.name ?? 'the destination';
    return isWritten
      ? [notes('not-held', `${name} does not hold all that files have beside their bytes: ${words}.`, 'Choose another shelf if you need that.', name)]
      : [];
  });
}

/** Files beside what is sorted that belong to none of it. */
function leftFindings({ items, chosen }: SortInput, placements: readonly Placement[]): Finding[] {
  const beside = items.filter(({ id, facts }) => facts.kind === 'other' && !chosen.has(id));
  if (beside.length === 0) return [];
  const going = new Set(placements.flatMap(({ unit }) => unit.members.map(({ place }) => placeKey(place))));
  const left = beside.filter(({ place }) => !going.has(placeKey(place)));
  if (left.length === 0) return [];
  const names = fewNames(left.map(({ place }) => fileName(place.path)));
  return [notes('left-beside', `${names} ${oneOrMany(left.length, 'lies beside these and stays', 'lie beside these and stay')}: no file of that name is sorted.`, 'Sort the folder instead of clips to take everything in it.')]; // prettier-ignore
}

function fileFindings({ input, settings, rows, placements }: Seen): Finding[] {
  const findings: Finding[] = [];
  const why = new Map<string, number>();
  for (const { stays, files } of rows)
    if (stays !== null && stays !== 'in its place' && stays !== COPIED_BEFORE && !stays.startsWith('equal to '))
      why.set(stays, (why.get(stays) ?? 0) + files);
  for (const [reason, files] of why)
    findings.push(warns('stays', `${plural(files, 'file stays', 'files stay')} where ${oneOrMany(files, 'it is', 'they are')}: ${reason}.`));
  findings.push(...leftFindings(input, placements));
  const before = rows.reduce((sum, { stays, files }) => sum + (stays === COPIED_BEFORE ? files : 0), 0);
  if (before > 0)
    findings.push(
      notes(
        'copied-before',
        `${plural(before, 'file was', 'files were')} copied here before, as checksums prove: ${oneOrMany(before, 'it is', 'they are')} not copied again.`,
      ),
    );
  const open = rows.filter(({ openBy, stays }) => openBy !== null && stays === null);
  if (open.length > 0)
    findings.push(
      warns(
        'open',
        `${open[0]!.oldName}${open.length > 1 ? ` and ${formatCount(open.length - 1)} more are` : ' is'} open in ${open[0]!.openBy}.`,
        'Close it there first: what is written meanwhile may be lost to it.',
      ),
    );
  const others = placements
    .flatMap(({ files }) => files)
    .filter(({ member }) => input.others.has(`${member.place.shelfId}\n${member.place.path}`)).length;
  if (others > 0 && settings.action === 'move')
    findings.push(
      notes(
        'others-follow',
        `${formatCount(others)} of these files ${oneOrMany(others, 'is', 'are')} used by other projects too: their clips follow.`,
      ),
    );
  const pasted = rows.filter(({ kind, stays }) => (kind === 'card' || kind === 'folder') && stays === null).length;
  if (pasted > 0) findings.push(notes('whole', `${plural(pasted, 'folder stays', 'folders stay')} whole, as camera cards do.`));
  return findings;
}
