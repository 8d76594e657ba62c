/** What a sort changes beside the files that it moves or copies. */
import { mkdirSync, readdirSync, rmdirSync, statSync, utimesSync, chmodSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { standingAt } from '../../stock/identify';
import { isUntouched } from '../../../core/media/identity';
import { fileName, type Place } from '../../../core/media/item';
import type {
  FollowCopies,
  FolderState,
  MakeFolders,
  NoteFolders,
  ReadEqual,
  LinksBack,
  ClipsAway,
  MakeClips,
  RemoveEmptied,
  RestoreFolders,
} from '../../../core/planning/sort/sort-changes';
import { binName } from '../../../core/project/bins';
import { clipsOfItems } from '../../projects/make-clip';
import { recordMade } from '../../stock/checksums';
import { byName } from '../../../core/naming/by-name';
import { fewNames, plural } from '../../../core/words/figures';
import { runCommand } from '../../outside/run-command';
import { StepFailure } from '../../errors/explain-error';
import { ensureFolder } from '../../actions/made/folders';
import type { Places } from '../../stock/mounts';
import { resolveBelow } from '../../stock/mounts';
import type { ChangeContext, ChangeMaker, StepContext } from '../../actions/step-context';
import { enterCopy } from '../adopt/enter-copy';

function pathOf(place: Place, places: Pick<Places, 'rootOf'>): string {
  return resolveBelow(places.rootOf(place.shelfId), place);
}

const noteFolders: ChangeMaker<NoteFolders> = {
  make({ folders }, { places }) {
    const states = folders.flatMap((place): FolderState[] => {
      // Of a shelf that is away nothing is touched.
      if (places.rootOf(place.shelfId) === null) return [];
      const info = statSync(pathOf(place, places), { bigint: true, throwIfNoEntry: false });
      return info?.isDirectory() ? [{ place, modifiedNs: String(info.mtimeNs), mode: Number(info.mode) & 0o7777 }] : [];
    });
    const back: RestoreFolders = { type: 'restore-folders', last: true, folders: states };
    return { bytes: 0, checked: plural(states.length, 'folder'), back };
  },
};

/** Times of folders are whole again when everything in them is; the deepest first. */
const restoreFolders: ChangeMaker<RestoreFolders> = {
  onDisk: { at: ({ folders }) => folders.map(({ place }) => place), work: restoreOnDisk },
  make: ({ folders }) => ({ bytes: 0, checked: plural(folders.length, 'folder') }),
};

async function restoreOnDisk({ folders }: RestoreFolders, { places }: Pick<StepContext, 'places'>): Promise<void> {
  const deepestLast = [...folders].sort((a, b) => depth(a.place) - depth(b.place));
  for (const { place, mode } of deepestLast) {
    const path = pathOf(place, places);
    if (statSync(path, { throwIfNoEntry: false })) continue;
    // One that a sort took away for being empty, and that nothing has made again.
    mkdirSync(path);
    chmodSync(path, mode);
  }
  for (const { place, modifiedNs } of deepestLast.reverse()) await setModified(pathOf(place, places), BigInt(modifiedNs));
}

const LONGEST_MS = 60_000;

/** To the nanosecond by `touch` of the system, as floating numbers of seconds are too coarse for that; else to the microsecond. */
async function setModified(path: string, ns: bigint): Promise<void> {
  const fraction = String(ns % 1_000_000_000n).padStart(9, '0');
  const at = `@${ns / 1_000_000_000n}.${fraction}`;
  const { exitCode } = await runCommand('touch', ['-c', '-m', '-d', at, '--', path], { timeLimitMs: LONGEST_MS });
  if (exitCode === 0) return;
  // Seconds as a floating number may fall short of the microsecond: aim at its middle.
  const seconds = (Number(ns / 1_000n) + 0.5) / 1e6;
  utimesSync(path, seconds, seconds);
}

const makeFolders: ChangeMaker<MakeFolders> = {
  onDisk: {
    at: ({ folders }) => folders,
    async work({ folders }, context) {
      for (const folder of folders) await ensureFolder(folder, context);
    },
  },
  make: ({ folders }) => ({ bytes: 0, checked: plural(folders.length, 'folder made', 'folders made') }),
};

const removeEmptied: ChangeMaker<RemoveEmptied> = {
  make({ folders }, { places }) {
    let removed = 0;
    /** The deepest that others have put something into meanwhile, or where something stays. */
    let left: string | null = null;
    for (const folder of folders) {
      try {
        rmdirSync(pathOf(folder, places));
        removed++;
      } catch (error) {
        // What still holds something stays; what is gone is gone.
        if (!['ENOTEMPTY', 'EEXIST', 'ENOENT', 'ENOTDIR', 'EBUSY', 'EACCES', 'EPERM', 'EROFS'].includes((error as NodeJS.ErrnoException).code ?? ''))
          throw error;
        left ??= stillIn(folder, places);
      }
    }
    const checked = plural(removed, 'empty folder removed', 'empty folders removed');
    return { bytes: 0, checked: left === null ? checked : `${checked}; ${left}` };
  },
};

/** What a folder that was not taken away holds, in words; null where it cannot be listed. */
function stillIn(folder: Place, places: Pick<Places, 'rootOf'>): string | null {
  try {
    const names = readdirSync(pathOf(folder, places)).sort(byName);
    return names.length === 0 ? null : `${fileName(folder.path)} still holds ${fewNames(names)}`;
  } catch {
    return null;
  }
}

/** The stock knows the copies as what they are copies of, and clips of the run's project read them. */
const followCopies: ChangeMaker<FollowCopies> = {
  toTell: (change) => ({ ...change, pairs: [] }),
  make({ pairs }, context) {
    const { catalogue, runId } = context;
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    if (!catalogue.projects.get(projectId)) throw new StepFailure('The project was removed meanwhile. The copies stay where they are.');
    const links: LinksBack['links'][number][] = [];
    for (const { from, to, twin, sequence, originalName } of pairs) {
      const item = catalogue.items.at(from);
      if (!item) continue;
      for (const place of twin ? [to, twin] : [to]) {
        enterCopy(item, place, sequence ?? null, context);
        if (originalName) catalogue.moves.setOriginalName(place, originalName);
      }
      catalogue.moves.fileLeft(from, to, projectId);
      links.push(...relinkAll(projectId, from, to, context));
    }
    recordMade(context.runId, catalogue);
    const back: LinksBack = { type: 'links-back', links };
    return { bytes: 0, checked: `${plural(links.length, 'link')}, in and out points untouched`, back };
  },
};

const readEqual: ChangeMaker<ReadEqual> = {
  make({ from, to, sha256 }, context) {
    const { catalogue, runId, places } = context;
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    const [own, first] = [catalogue.items.at(from), catalogue.items.at(to)];
    if (own?.sha256 !== sha256 || first?.sha256 !== sha256)
      throw new StepFailure('One of the two was changed since they were found equal. Nothing was done.');
    for (const item of [own, first]) {
      const now = standingAt(pathOf(item.place, places));
      if (!now || !item.identity || !isUntouched(now, item.identity)) throw new StepFailure(`${fileName(item.place.path)} was touched since it was read whole. Nothing was done: take stock, then make a new plan.`); // prettier-ignore
    }
    const links = relinkAll(projectId, from, to, context);
    return {
      bytes: 0,
      checked: `${plural(links.length, 'link')}, files equal byte for byte`,
      back: { type: 'links-back', links } satisfies LinksBack,
    };
  },
};

/** Every link of the project from one place to another; gives what takes it back. */
function relinkAll(projectId: string, from: Place, to: Place, { catalogue }: ChangeContext): LinksBack['links'][number][] {
  return catalogue.clips.linksTo(projectId, from).map(({ renditionId, position, link }) => {
    const name = link.expected.name === fileName(from.path) ? fileName(to.path) : link.expected.name;
    catalogue.clips.relink(renditionId, position, { ...link, place: to, expected: { ...link.expected, name } });
    return { renditionId, position, now: to, link };
  });
}

function binPath(bin: string): string {
  return bin.split('/').filter((name) => name.trim() !== '').map(binName).join('/'); // prettier-ignore
}

/** What no clip reads yet becomes clips; the files of one recording are one. */
const makeClips: ChangeMaker<MakeClips> = {
  toTell: (change) => ({ ...change, clips: [], binless: [] }),
  make({ clips: wanted, binless = [] }, { catalogue, runId }) {
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    if (!catalogue.projects.get(projectId)) throw new StepFailure('The project was removed meanwhile. The files stay where they are.');
    const found = wanted.flatMap(({ place, bin, name: called }) => {
      const item = catalogue.items.at(place);
      return item ? [{ item, name: called, bin: binPath(bin) }] : [];
    });
    const made = clipsOfItems(projectId, found, catalogue, randomUUID);
    const inBins = binless.map(({ clipId, bin }) => ({ clipId, bin: binPath(bin) }));
    const paths = new Set([...made.map((clip) => clip.binPath), ...inBins.map(({ bin }) => bin)]);
    const bins = [...paths].flatMap((path) => catalogue.bins.make(projectId, path));
    for (const clip of made) catalogue.clips.put(projectId, clip);
    const binned = inBins.filter(({ clipId, bin }) => catalogue.clips.fillBin(projectId, clipId, '', bin));
    const back: ClipsAway = { type: 'clips-away', clipIds: made.map(({ id }) => id), bins, ...(binned.length > 0 ? { binned } : {}) };
    const words = binned.length === 0 ? '' : `, ${plural(binned.length, 'clip')} without a bin put in one`;
    return { bytes: 0, checked: `${plural(made.length, 'new clip')}${words}`, back };
  },
};

const clipsAway: ChangeMaker<ClipsAway> = {
  toTell: (change) => ({ ...change, clipIds: [], binned: [] }),
  make({ clipIds, bins, binned = [] }, { catalogue, runId }) {
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    for (const { clipId, bin } of binned) catalogue.clips.fillBin(projectId, clipId, bin, '');
    const went = catalogue.clips.removeUntouched(clipIds);
    catalogue.bins.dropEmpty(projectId, bins);
    const stay = clipIds.length - went;
    return { bytes: 0, checked: `${plural(went, 'clip')} taken out${stay > 0 ? `, ${stay} in use or changed since` : ''}` };
  },
};

/** Links as they were, where nobody has linked something else since. */
const linksBack: ChangeMaker<LinksBack> = {
  toTell: (change) => ({ ...change, links: [] }),
  make({ links }, { catalogue }) {
    let back = 0;
    for (const { renditionId, position, now, link } of links) {
      const found = catalogue.clips.linkAt(renditionId, position);
      if (!found?.place || found.place.shelfId !== now.shelfId || found.place.path !== now.path) continue;
      catalogue.clips.relink(renditionId, position, link);
      back++;
    }
    return { bytes: 0, checked: `${plural(back, 'link')} as before` };
  },
};

function depth({ path }: Place): number {
  return path === '' ? 0 : path.split('/').length;
}

export const sortChanges = {
  'note-folders': noteFolders,
  'restore-folders': restoreFolders,
  'make-folders': makeFolders,
  'remove-emptied': removeEmptied,
  'follow-copies': followCopies,
  'read-equal': readEqual,
  'links-back': linksBack,
  'make-clips': makeClips,
  'clips-away': clipsAway,
};
