/** Sort: the media of a project into the standard folders of the house, with everything that links it. */
import { frameName, presentNumbers, sequenceName } from '../../media/image-sequence';
import { below, fileName, folderOf, joinPath, placeKey, samePlace, type Place } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { linkStep, precondition, type CopyStep, type FramesStep, type MoveStep, type Step } from '../plan/step';
import { formatBytes } from '../../words/figures';
import { shelfFills } from '../plan/destination';
import type { Plan, PlanLine } from '../plan/plan';
import type { SortSettings } from './settings';
import { clipsWithoutBin, newClips } from './new-clips';
import { secondPlace, withTwins } from './second-copy';
import type { ClipInBin, FollowCopies, MakeClips, MakeFolders, NewClip, NoteFolders, ReadEqual, RemoveEmptied } from './sort-changes';
import { sortFindings } from './sort-findings';
import { rootFolder } from './target-folder';
import type { SortInput } from './sort-input';
import { flowOf, folderFigures, rowOf, treeOf, type FlowLink, type FolderFigures, type SortRow, type TreeFolder } from './sort-rows';
import { FIRST_PHASE, inOrder } from './in-order';
import { placeUnits, type Placed, type Placement } from './placing';
import { TargetFolders } from './target-folder';
import { unitsOf } from './units';

export interface SortDetail {
  readonly rows: readonly SortRow[];
  readonly folders: readonly FolderFigures[];
  readonly flow: readonly FlowLink[];
  /** Folders now (by shelf id and path) and then (on the destination shelf). */
  readonly now: readonly (TreeFolder & { readonly shelfId: string })[];
  readonly then: readonly TreeFolder[];
  /** Bytes that must be free at the destination for moving and for copying, side by side. */
  readonly extraBytes: { readonly move: number; readonly copy: number };
  /** All that is sorted, wherever it lies. */
  readonly bytes: number;
  /** The project's own folder, into which it is sorted; null where that would be all of a shelf. */
  readonly ownFolder: Place | null;
}

function ownFolder(input: SortInput, settings: SortSettings): Place | null {
  const root = rootFolder(input, settings);
  return settings.destination && root !== '' ? below(settings.destination, root) : null;
}

const MOST_TREE = 2_000;

export function planSort(input: SortInput, settings: SortSettings): Plan<SortDetail> {
  const units = unitsOf(input, settings.whole);
  const placements = placeUnits(units, input, settings);
  const rows = placements.map((placement) => rowOf(placement, input));
  const going = placements.filter(({ files }) => files.length > 0);
  const isMove = settings.action === 'move';
  const extraBytes = { move: extra(going, input, settings, 'move'), copy: extra(going, input, settings, 'copy') };
  const findings = sortFindings({ input, settings, placements, rows, needsBytes: extraBytes[settings.action] });
  const stop = findings.find(({ severity }) => severity === 'stops' || severity === 'asks');
  const shelfId = settings.destination?.shelfId ?? '';
  const files = isMove ? moves(going, input, shelfId) : withTwins(copies(going, input, shelfId), settings);
  const clips = { made: newClips(placements, input, settings), binless: clipsWithoutBin(placements, input, settings) };
  const made = settings.emptyFolders && settings.destination ? emptyFolders(input, settings) : [];
  const hollow = hollowFolders(going, settings);
  const steps = stop ? [] : [...around(placements, files, { made, hollow }, clips, settings)];
  const moved = rows.filter(({ stays }) => stays === null);
  const filesMoved = moved.reduce((sum, row) => sum + row.files, 0);
  const total = rows.reduce((sum, row) => sum + row.files, 0);
  const nothing =
    steps.length === 0 && !stop ? (rows.length === 0 ? 'There is nothing to sort in what is chosen.' : 'Everything is in its place.') : null;
  return {
    kind: 'sort',
    title: `Sort ${isMove ? 'by moving' : 'by copying'}: ${settings.structure === 'scheme' ? settings.scheme.name : settings.structure === 'bins' ? 'after the bins' : 'folders as they were'}`,
    projectId: input.project.id,
    headline: { value: filesMoved, of: total, unit: 'files', words: isMove ? 'go to their place' : 'are copied to their place' },
    lines: lines(rows, settings, extraBytes, made.length, clips, files),
    fills: shelfFills(isMove ? files.filter((step) => step.action !== 'move' || step.across) : files, input.shelves),
    findings,
    steps,
    blocked: stop?.message ?? nothing,
    detail: {
      rows,
      folders: folderFigures(settings.scheme, rows, settings.structure),
      flow: flowOf(rows, input),
      now: treesNow(placements, input),
      then: treeOf(
        [...made.map(({ path }) => ({ path: `${path}/x`, files: 0, bytes: 0 })), ...placements.flatMap((placement) => filesThen(placement, input))],
        MOST_TREE,
      ),
      extraBytes,
      bytes: rows.reduce((sum, row) => sum + row.bytes, 0),
      ownFolder: ownFolder(input, settings),
    },
  };
}

/** Where the files of a unit lie then; what stays elsewhere is not among them. */
function filesThen({ files, unit, stays, equalTo }: Placement, input: SortInput): { path: string; files: number; bytes: number }[] {
  if (files.length > 0) return files.map(({ to, member, sequence }) => ({ path: sequence ? joinPath(to, 'frame') : to, ...count(member, input) }));
  return stays === 'in its place' && equalTo === null ? unit.members.map((member) => ({ path: member.place.path, ...count(member, input) })) : [];
}

function count(member: Placed['member'], input: SortInput): { files: number; bytes: number } {
  return { files: member.item?.facts.sequence ? (input.frames.get(member.item.id)?.length ?? 1) : 1, bytes: member.sizeBytes };
}

function treesNow(placements: readonly Placement[], input: SortInput): SortDetail['now'] {
  const shelves = new Map<string, { path: string; files: number; bytes: number }[]>();
  for (const { unit } of placements)
    for (const member of unit.members) {
      const own = shelves.get(member.place.shelfId) ?? [];
      own.push({ path: member.place.path, ...count(member, input) });
      shelves.set(member.place.shelfId, own);
    }
  return [...shelves].flatMap(([shelfId, files]) => treeOf(files, MOST_TREE).map((folder) => ({ shelfId, ...folder })));
}

/** Bytes that the destination must have free. */
function extra(going: readonly Placement[], input: SortInput, { destination }: SortSettings, action: 'move' | 'copy'): number {
  const own = destination && input.volumes.get(destination.shelfId);
  const members = going.flatMap(({ files }) => files.map(({ member }) => member));
  const counted = action === 'copy' ? members : members.filter(({ place }) => own === undefined || input.volumes.get(place.shelfId) !== own);
  return counted.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
}

function names(files: Placed, input: SortInput): { names: string[]; asNames: string[]; holds: readonly string[] | null } {
  const facts = files.member.item!.facts.sequence!;
  const numbers = presentNumbers(facts);
  const holds = input.frames.get(files.member.item!.id) ?? null;
  return { names: numbers.map((number) => frameName(facts, number)), asNames: numbers.map((number) => frameName(files.sequence!, number)), holds };
}

/** What every step that takes a file to its place has. */
function baseOf({ member, from, to }: Placed, { target, renamed }: Placement, shelfId: string) {
  return {
    phase: FIRST_PHASE,
    from: { shelfId: member.place.shelfId, path: from },
    to: { shelfId, path: to },
    expectedBytes: member.sizeBytes,
    bytesExact: true,
    reason: [target.why, ...renamed].join(', '),
    mustHold: member.item ? precondition(member.item) : { sizeBytes: member.sizeBytes, modifiedMs: 0, identity: member.identity },
  };
}

/** Name that is kept on record: the one it came with, once it has another. */
function originalName({ member, from, to, sequence }: Placed): string | null {
  const known = member.item?.originalName ?? null;
  const isRenamed = sequence ? member.item!.facts.sequence!.prefix !== sequence.prefix : fileName(from) !== fileName(to);
  return isRenamed ? (known ?? fileName(member.place.path)) : known;
}

function moves(going: readonly Placement[], input: SortInput, shelfId: string): MoveStep[] {
  const steps = going.flatMap((placement) =>
    placement.files.map((placed): MoveStep => {
      const { member, sequence } = placed;
      return {
        action: 'move',
        ...baseOf(placed, placement, shelfId),
        across: input.volumes.get(member.place.shelfId) === undefined || input.volumes.get(member.place.shelfId) !== input.volumes.get(shelfId),
        originalBefore: member.item?.originalName ?? null,
        originalAfter: originalName(placed),
        ...(placement.unit.root ? { whole: placement.unit.root } : {}),
        ...(sequence ? { frames: { ...names(placed, input), from: member.item!.facts.sequence!, to: sequence } } : {}),
      };
    }),
  );
  return inOrder(steps);
}

function copies(going: readonly Placement[], input: SortInput, shelfId: string): (CopyStep | FramesStep)[] {
  return going.flatMap((placement) =>
    placement.files.map((placed): CopyStep | FramesStep => {
      const base = baseOf(placed, placement, shelfId);
      return placed.sequence
        ? { ...base, action: 'frames', ...names(placed, input), sequence: placed.member.item!.facts.sequence! }
        : { ...base, action: 'copy', ...(placed.orEqual ? { orEqual: true as const } : {}) };
    }),
  );
}

/** Standard folders that hold nothing yet. */
function emptyFolders(input: SortInput, settings: SortSettings): Place[] {
  const { destination } = settings;
  const root = new TargetFolders(input, settings);
  const there = new Set(input.standing.map(foldPath));
  return [root.root, ...root.standing()]
    .filter((path) => path !== '')
    .map((path) => below(destination!, path))
    .filter(({ path }) => !there.has(foldPath(path)));
}

interface Folders {
  /** Of the scheme. */
  readonly made: readonly Place[];
  /** Empty ones in folders kept whole, as they are and as they will be. */
  readonly hollow: { readonly from: readonly Place[]; readonly to: readonly Place[] };
}

/** A folder kept whole keeps its empty folders, in a second copy too. */
function hollowFolders(going: readonly Placement[], settings: SortSettings): Folders['hollow'] {
  const all = going.flatMap(({ folders = [] }) => folders);
  const to = all.flatMap((folder) => {
    const second = settings.action === 'copy' ? secondPlace(folder.to, settings) : null;
    return [{ shelfId: settings.destination!.shelfId, path: folder.to }, ...(second ? [second] : [])];
  });
  return { from: settings.action === 'move' ? all.map(({ from }) => from) : [], to };
}

interface SortedClips {
  readonly made: readonly NewClip[];
  readonly binless: readonly ClipInBin[];
}

/** The files with what comes before and after them. */
function* around(
  placements: readonly Placement[],
  files: readonly Step[],
  { made, hollow }: Folders,
  clips: SortedClips,
  settings: SortSettings,
): Generator<Step> {
  const last = Math.max(FIRST_PHASE, ...new Set(files.map(({ phase }) => phase)));
  const sources = sourceFolders(files, hollow.from);
  if (files.length + made.length > 0)
    yield linkStep<NoteFolders>(0, 'so that an undo can put them back', {
      type: 'note-folders',
      folders: touchedFolders(files, [...made, ...hollow.to, ...hollow.from]),
    });
  if (made.length > 0) yield linkStep<MakeFolders>(1, 'folders of the standard', { type: 'make-folders', folders: made });
  if (hollow.to.length > 0) yield linkStep<MakeFolders>(1, 'empty folders of what stays whole', { type: 'make-folders', folders: hollow.to });
  yield* files;
  if (settings.action === 'copy') {
    const pairs = placements.flatMap((placement) =>
      placement.files.filter(({ member }) => member.item !== null).map((placed) => pairOf(placed, settings)),
    );
    if (pairs.length > 0) yield linkStep<FollowCopies>(last + 1, 'clips of this project read the copies', { type: 'follow-copies', pairs });
  }
  yield* equals(placements, settings, last + 2);
  const { made: newOnes, binless } = clips;
  if (newOnes.length + binless.length > 0)
    yield linkStep<MakeClips>(last + 2, 'in bins named as their folders', {
      type: 'make-clips',
      clips: newOnes,
      ...(binless.length > 0 ? { binless } : {}),
    });
  if (settings.action === 'move' && settings.removeEmptied && sources.length > 0)
    yield linkStep<RemoveEmptied>(last + 3, 'only folders that are empty go', { type: 'remove-emptied', folders: sources });
}

function pairOf(placed: Placed, settings: SortSettings): FollowCopies['pairs'][number] {
  const { member, to, sequence } = placed;
  const listed = (place: Place) => (sequence ? below(place, sequenceName(sequence)) : place);
  const twin = secondPlace(to, settings);
  return {
    from: member.place,
    to: listed({ shelfId: settings.destination!.shelfId, path: to }),
    ...(twin ? { twin: listed(twin) } : {}),
    ...(sequence ? { sequence } : {}),
    originalName: originalName(placed),
  };
}

function* equals(placements: readonly Placement[], { destination }: SortSettings, phase: number): Generator<Step> {
  const places = new Map(
    placements.flatMap(({ unit, files }) => [
      [unit.lead.id, files[0] ? { shelfId: destination!.shelfId, path: files[0].to } : unit.lead.place] as const,
    ]),
  );
  for (const { unit, equalTo } of placements) {
    if (!equalTo) continue;
    const to = places.get(equalTo.id)!;
    if (samePlace(to, unit.lead.place)) continue;
    // A small file is known by its samples, which are all of it: its clips find the other by themselves.
    if (!unit.lead.sha256 || !equalTo.sha256) continue;
    const change: ReadEqual = { type: 'read-equal', from: unit.lead.place, to, sha256: unit.lead.sha256 };
    yield linkStep(phase, `equal to ${fileName(equalTo.place.path)}, byte for byte`, change, { from: unit.lead.place, to });
  }
}

/** Folders whose times change: those that files leave and come to, with all above them up to the shelf's own. */
function touchedFolders(files: readonly Step[], made: readonly Place[]): Place[] {
  const folders = new Map<string, Place>();
  const enter = ({ shelfId, path }: Place) => {
    for (let own = path; ; own = folderOf(own)) {
      const place = { shelfId, path: own };
      if (folders.has(placeKey(place))) break;
      folders.set(placeKey(place), place);
      if (own === '') break;
    }
  };
  for (const step of files) {
    const isFolder = step.action === 'frames' || (step.action === 'move' && step.frames !== undefined);
    if (step.action === 'move' && step.from) enter(isFolder ? step.from : { ...step.from, path: folderOf(step.from.path) });
    if (step.to) enter(isFolder ? step.to : { ...step.to, path: folderOf(step.to.path) });
  }
  made.forEach(enter);
  return [...folders.values()];
}

/** Folders that files leave, and empty ones that go along, with those around them up to the shelf; the deepest first. */
function sourceFolders(files: readonly Step[], hollow: readonly Place[]): Place[] {
  const folders = new Map<string, Place>();
  const left = files.flatMap((step): Place[] =>
    step.action === 'move' ? [step.frames ? step.from! : { ...step.from!, path: folderOf(step.from!.path) }] : [],
  );
  for (const { shelfId, path: start } of [...left, ...hollow]) {
    for (let path = start; path !== ''; path = folderOf(path)) {
      const place = { shelfId, path };
      if (folders.has(placeKey(place))) break;
      folders.set(placeKey(place), place);
    }
  }
  return [...folders.values()].sort((a, b) => b.path.split('/').length - a.path.split('/').length || (a.path < b.path ? 1 : -1));
}

function lines(
  rows: readonly SortRow[],
  settings: SortSettings,
  extraBytes: SortDetail['extraBytes'],
  made: number,
  clips: SortedClips,
  files: readonly Step[],
): PlanLine[] {
  const sum = (list: readonly SortRow[]) => ({
    files: list.reduce((all, row) => all + row.files, 0),
    bytes: list.reduce((all, row) => all + row.bytes, 0),
  });
  const going = rows.filter(({ stays }) => stays === null);
  const there = rows.filter(({ stays }) => stays === 'in its place');
  const other = rows.filter(({ stays }) => stays !== null && stays !== 'in its place' && !stays.startsWith('equal to '));
  const renamed = going.filter((row) => row.oldName !== row.newName);
  const compared = files.filter((step) => step.action === 'copy' && step.orEqual).length;
  const equal = rows.filter(({ stays }) => stays?.startsWith('equal to '));
  const toSort = rows.filter(({ folderId, stays }) => folderId === 'rest' && (stays === null || stays === 'in its place'));
  return [
    { label: settings.action === 'move' ? 'Moved' : 'Copied', ...sum(going) },
    ...(renamed.length > 0 ? [{ label: 'Get another name', files: renamed.length }] : []),
    ...(there.length > 0 ? [{ label: 'In their place already', ...sum(there) }] : []),
    ...(compared > 0 ? [{ label: 'Look the same as what stands there, are compared', files: compared }] : []),
    ...(equal.length > 0 ? [{ label: 'Equal to another, not copied twice', ...sum(equal) }] : []),
    ...(settings.action === 'copy' && going.length > 0 ? [{ label: 'Read afterwards', text: "the copies in the project's own folder" }] : []),
    ...(toSort.length > 0 && settings.structure === 'scheme' ? [{ label: 'No rule takes', ...sum(toSort) }] : []),
    ...(other.length > 0 ? [{ label: 'Stay where they are', ...sum(other) }] : []),
    ...(settings.second && settings.action === 'copy' && going.length > 0 ? [{ label: 'Second copy', ...sum(going) }] : []),
    ...(clips.made.length > 0 ? [{ label: 'Become clips in bins', files: clips.made.length }] : []),
    ...(clips.binless.length > 0 ? [{ label: 'Clips without a bin get one', text: String(clips.binless.length) }] : []),
    ...(made > 0 ? [{ label: 'Empty folders made', text: String(made) }] : []),
    { label: 'More room if moved', text: formatBytes(extraBytes.move) },
    { label: 'More room if copied', text: formatBytes(extraBytes.copy) },
  ];
}
