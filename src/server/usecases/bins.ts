/** Bins and clips as people arrange and name them. */
import { randomUUID } from 'node:crypto';
import { clipListOfClips } from '../../core/planning/export/clip-list-rows';
import {
  addClips,
  allBins,
  BinError,
  changeBin,
  changeClips,
  dissolveBin,
  makeBin,
  moveBin,
  nameClips,
  nameOf,
  renameBin,
  tidy,
  type BinChange,
  type BinState,
  isInside,
} from '../../core/project/bins';
import { portableName } from '../../core/naming/safe-name';
import { sourceLink, type Clip } from '../../core/project/clip';
import { clipsOfItems } from '../projects/make-clip';
import { mustHave, notFound, Problem } from '../errors/problem';
import { projectOf } from './projects';
import type { Actor, House } from './use-case';
import type { BinEdit, NamesByPattern } from '../../core/forms/bin-edit';
import { namesByPattern } from '../../core/project/clip-names';
import { readPattern } from '../../core/scheme/pattern';
import { localDay } from '../../core/time/local-day';
import { plural } from '../../core/words/figures';

/** One edit of bins or clips. It can be taken back. */
export function editBins(house: House, actor: Actor, { projectId, edit }: { readonly projectId: string; readonly edit: BinEdit }) {
  const project = projectOf(house, projectId);
  const { catalogue } = house;
  const clips = catalogue.clips.binPaths(project.id).map((binPath) => ({ binPath }));
  const state: BinState = {
    bins: allBins({ bins: catalogue.bins.ofProject(project.id), clips }),
    clips: catalogue.clips.ofProject(project.id, clipsOf(edit)),
  };
  const { title, change } = planEdit(house, project.id, state, edit);
  catalogue.bins.edit(project.id, title, change, actor);
  house.changed('bins', project.id);
  return { title, clipIds: change.putClips.map((clip) => clip.id), removed: change.dropClips.length };
}

/** Clips that an edit may change; null for any of them. */
function clipsOf(edit: BinEdit): readonly string[] | null {
  if (edit.do === 'change-clips' || edit.do === 'name-clips') return edit.clipIds;
  return edit.do === 'make-bin' || edit.do === 'change-bin' || edit.do === 'add-items' ? [] : null;
}

function planEdit(house: House, projectId: string, state: BinState, edit: BinEdit): { title: string; change: BinChange } {
  switch (edit.do) {
    case 'make-bin':
      return { title: `Make the bin ${edit.name}`, change: makeBin(state, edit.parent, edit.name) };
    case 'rename-bin':
      return { title: `Rename the bin ${nameOf(edit.path)}`, change: renameBin(state, edit.path, edit.name) };
    case 'move-bin':
      return { title: `Move the bin ${nameOf(edit.path)}`, change: moveBin(state, edit.path, edit.parent) };
    case 'dissolve-bin':
      return { title: `Take the bin ${nameOf(edit.path)} away`, change: dissolveBin(state, edit.path) };
    case 'change-bin':
      return { title: `Change the bin ${nameOf(edit.path)}`, change: changeBin(state, edit.path, edit.change) };
    case 'change-clips': {
      mustHave(
        state.clips.map((clip) => clip.id),
        edit.clipIds,
        'clip',
      );
      const words = edit.change.binPath !== undefined ? 'Move' : edit.change.name !== undefined ? 'Rename' : 'Change';
      return { title: `${words} ${clipCount(edit.clipIds.length)}`, change: changeClips(state, edit.clipIds, edit.change) };
    }
    case 'name-clips': {
      const names = patternNames(house, projectId, state.clips, edit);
      return { title: `Rename ${clipCount(names.size)} by a pattern`, change: nameClips(state, names) };
    }
    case 'add-items': {
      const clips = clipsFrom(house, projectId, edit.itemIds, edit.binPath);
      if (clips.length === 0) throw new BinError('These items are clips of the project already.');
      return { title: `Make ${clipCount(clips.length)} of items`, change: addClips(clips) };
    }
    case 'tidy': {
      const unused = new Set(house.catalogue.clips.unused(projectId));
      const used = new Set(state.clips.map((clip) => clip.id).filter((id) => !unused.has(id)));
      const change = tidy(state, used, edit.bin);
      return { title: `Tidy ${clipCount(change.dropClips.length)} out of ${edit.bin === '' ? 'all bins' : nameOf(edit.bin)}`, change };
    }
  }
}

function patternNames(house: House, projectId: string, known: readonly Clip[], { clipIds, pattern }: NamesByPattern): Map<string, string> {
  const read = readPattern(pattern);
  if ('problem' in read) throw new Problem('bad-pattern', read.problem, 'Change the pattern.');
  const byId = new Map(known.map((clip) => [clip.id, clip]));
  mustHave(byId.keys(), clipIds, 'clip');
  const { catalogue } = house;
  return namesByPattern(
    clipIds.map((id) => byId.get(id)!),
    read,
    {
      project: projectOf(house, projectId).name,
      date: localDay(new Date()),
      itemOf: (clip) => {
        const place = sourceLink(clip)?.place;
        return place ? catalogue.items.at(place) : null;
      },
      dayOf: ({ facts, modifiedMs }) => facts.recordedOn ?? localDay(new Date(modifiedMs)),
    },
  );
}

/** How many are shown before clips are renamed. */
const NAMES_SHOWN = 200;

/** What clips would be called, changing nothing: how many change, and the first of those. */
export function previewNames(house: House, { projectId, naming }: { readonly projectId: string; readonly naming: NamesByPattern }) {
  const project = projectOf(house, projectId);
  const clips = house.catalogue.clips.ofProject(project.id, naming.clipIds);
  const names = patternNames(house, project.id, clips, naming);
  const byId = new Map(clips.map((clip) => [clip.id, clip]));
  const changed = [...names].filter(([id, name]) => byId.get(id)!.name !== name);
  return { changed: changed.length, rows: changed.slice(0, NAMES_SHOWN).map(([id, after]) => ({ id, before: byId.get(id)!.name, after })) };
}

function clipCount(count: number): string {
  return plural(count, 'clip');
}

function clipsFrom(house: House, projectId: string, itemIds: readonly string[], bin: string): Clip[] {
  const wanted = itemIds.map((id) => {
    const item = house.catalogue.items.get(id);
    if (!item) throw notFound('item');
    return { item, bin };
  });
  return clipsOfItems(projectId, wanted, house.catalogue, randomUUID);
}

/** Takes the last edit back, or does the one that was taken back last again. */
export function stepEdit(house: House, _actor: Actor, { projectId, direction }: { readonly projectId: string; readonly direction: 'undo' | 'redo' }) {
  const { id } = projectOf(house, projectId);
  const title = house.catalogue.bins.step(id, direction);
  if (title === null) throw new Problem('nothing-there', direction === 'undo' ? 'There is nothing to take back.' : 'There is nothing to do again.');
  house.changed('bins', id);
  return { title };
}

/** Clips of a bin and of those below it (all where it is empty) as a clip list, and what the file is called. */
export function clipListOf(house: House, { projectId, bin }: { readonly projectId: string; readonly bin: string }): { name: string; text: string } {
  const project = projectOf(house, projectId);
  const clips = house.catalogue.clips.ofProject(project.id).filter((clip) => bin === '' || isInside(clip.binPath, bin));
  const name = portableName(`${project.name}${bin === '' ? '' : ` ${nameOf(bin)}`} clips.csv`);
  return { name, text: clipListOfClips(clips, project.rate, project.dropFrame) };
}
