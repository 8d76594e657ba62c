/** Bins and clips by hand: what an edit changes, as data that can be applied, and taken back. */
import type { Clip } from './clip';

export interface Bin {
  /** Names from the top down, joined by `/`; no name holds one. */
  readonly path: string;
  readonly colour: string;
  readonly note: string;
}

export interface BinState {
  readonly bins: readonly Bin[];
  readonly clips: readonly Clip[];
}

/** Rows put in place (new or over the old ones) and rows taken out. Applying it gives the change that takes it back. */
export interface BinChange {
  readonly putBins: readonly Bin[];
  readonly dropBins: readonly string[];
  readonly putClips: readonly Clip[];
  readonly dropClips: readonly string[];
}

/** Why an edit cannot be made, in a sentence. */
export class BinError extends Error {}

const NOTHING: BinChange = { putBins: [], dropBins: [], putClips: [], dropClips: [] };
const DEEPEST = 32;

/** A name as a bin may have it. Throws BinError for an empty one. */
export function binName(name: string): string {
  const clean = name.toWellFormed().replaceAll('/', '-').trim();
  if (clean === '') throw new BinError('A bin needs a name.');
  if (clean.length > 200) throw new BinError('The name of a bin has at most 200 letters.');
  return clean;
}

export function parentOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
}

export function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

export function joinBin(parent: string, name: string): string {
  return parent === '' ? name : `${parent}/${name}`;
}

/** Whether a bin is that one or lies in it. What stands in no bin lies in none. */
export function isInside(path: string, folder: string): boolean {
  return path === folder || path.startsWith(`${folder}/`);
}

/** Every bin there is: the ones of their own, the ones clips lie in, and all above them. In the order of a tree. */
export function allBins(state: { readonly bins: readonly Bin[]; readonly clips: readonly Pick<Clip, 'binPath'>[] }): Bin[] {
  const known = new Map(state.bins.map((bin) => [bin.path, bin]));
  for (const path of [...known.keys(), ...new Set(state.clips.map((clip) => clip.binPath))]) {
    for (let at = path; at !== ''; at = parentOf(at)) if (!known.has(at)) known.set(at, { path: at, colour: '', note: '' });
  }
  return [...known.values()].sort((a, b) => compareByNames(a.path.split('/'), b.path.split('/')));
}

const COLLATOR = new Intl.Collator('en', { numeric: true });

/** Name by name from the top, so that what is in a bin comes before the bin after it. */
function compareByNames(a: readonly string[], b: readonly string[]): number {
  const differs = a.findIndex((name, index) => name !== b[index]);
  if (differs < 0 || b[differs] === undefined) return a.length - b.length;
  return COLLATOR.compare(a[differs]!, b[differs]) || (a[differs]! < b[differs] ? -1 : 1);
}

function mustExist(state: BinState, path: string): Bin {
  const bin = allBins(state).find((entry) => entry.path === path);
  if (!bin) throw new BinError(`There is no bin "${path}".`);
  return bin;
}

function mustBeFree(state: BinState, path: string): void {
  if (allBins(state).some((bin) => bin.path === path)) throw new BinError(`There is a bin called "${nameOf(path)}" already.`);
  if (path.split('/').length > DEEPEST) throw new BinError(`Bins go at most ${DEEPEST} deep.`);
}

export function makeBin(state: BinState, parent: string, name: string): BinChange {
  if (parent !== '') mustExist(state, parent);
  const path = joinBin(parent, binName(name));
  mustBeFree(state, path);
  return { ...NOTHING, putBins: [{ path, colour: '', note: '' }] };
}

/** A bin with all in it under another path. */
function relocate(state: BinState, from: string, to: string): BinChange {
  mustExist(state, from);
  if (from === to) return NOTHING;
  mustBeFree(state, to);
  const moved = (path: string) => to + path.slice(from.length);
  const inside = allBins(state).filter((bin) => isInside(bin.path, from));
  return {
    putBins: inside.map((bin) => ({ ...bin, path: moved(bin.path) })),
    dropBins: inside.map((bin) => bin.path),
    putClips: state.clips.filter((clip) => isInside(clip.binPath, from)).map((clip) => ({ ...clip, binPath: moved(clip.binPath) })),
    dropClips: [],
  };
}

export function renameBin(state: BinState, path: string, name: string): BinChange {
  return relocate(state, path, joinBin(parentOf(path), binName(name)));
}

export function moveBin(state: BinState, path: string, parent: string): BinChange {
  if (parent !== '') mustExist(state, parent);
  if (isInside(parent, path)) throw new BinError('A bin cannot be put into itself.');
  return relocate(state, path, joinBin(parent, nameOf(path)));
}

/** Takes a bin away; the bins and clips in it go to the one above. */
export function dissolveBin(state: BinState, path: string): BinChange {
  mustExist(state, path);
  const parent = parentOf(path);
  const inside = allBins(state).filter((bin) => isInside(bin.path, path));
  const raised = (own: string) => joinBin(parent, own.slice(path.length + 1));
  const put = inside.filter((bin) => bin.path !== path).map((bin) => ({ ...bin, path: raised(bin.path) }));
  for (const bin of put) {
    const standing = allBins(state).find((entry) => entry.path === bin.path);
    if (standing && !isInside(standing.path, path)) throw new BinError(`"${bin.path}" stands there already: rename one of the two first.`);
  }
  const clips = state.clips.filter((clip) => isInside(clip.binPath, path));
  return {
    putBins: put,
    dropBins: inside.map((bin) => bin.path),
    putClips: clips.map((clip) => ({ ...clip, binPath: clip.binPath === path ? parent : raised(clip.binPath) })),
    dropClips: [],
  };
}

export function changeBin(state: BinState, path: string, change: Partial<Pick<Bin, 'colour' | 'note'>>): BinChange {
  return { ...NOTHING, putBins: [{ ...mustExist(state, path), ...change }] };
}

export type ClipWords = Partial<Pick<Clip, 'name' | 'note' | 'colour' | 'binPath' | 'conform' | 'marks'>>;

/** Words, colour, bin and conforming of clips. A name of nothing but spaces is refused. */
export function changeClips(state: BinState, clipIds: readonly string[], change: ClipWords): BinChange {
  if (change.name?.trim() === '') throw new BinError('A clip needs a name.');
  if (change.binPath) mustExist(state, change.binPath);
  const wanted = new Set(clipIds);
  const clips = state.clips.filter((clip) => wanted.has(clip.id));
  if (clips.length === 0) throw new BinError('There is no such clip.');
  return { ...NOTHING, putClips: clips.map((clip) => ({ ...clip, ...change })) };
}

/** Gives clips the names of `names`, by clip id; those that have them already stay as they are. */
export function nameClips(state: BinState, names: ReadonlyMap<string, string>): BinChange {
  const putClips = state.clips.flatMap((clip) => {
    const name = names.get(clip.id);
    return name === undefined || name === clip.name ? [] : [{ ...clip, name }];
  });
  if (putClips.length === 0) throw new BinError('These clips have these names already.');
  return { ...NOTHING, putClips };
}

export function addClips(clips: readonly Clip[]): BinChange {
  return { ...NOTHING, putClips: clips };
}

/** Takes clips out that no timeline uses: those of `bin` and below (all for ''). Files are not touched. */
export function tidy(state: BinState, usedClipIds: ReadonlySet<string>, bin: string): BinChange {
  const unused = state.clips.filter((clip) => !usedClipIds.has(clip.id) && (bin === '' || isInside(clip.binPath, bin)));
  if (unused.length === 0) throw new BinError('Every clip here is used by a timeline.');
  return { ...NOTHING, dropClips: unused.map((clip) => clip.id) };
}
