/** Changes of a scheme's tree. Each gives a new scheme; what is not there changes nothing. */
import type { Rule } from './rule';
import { allFolders, type Scheme, type SchemeFolder } from './scheme';

type Folders = readonly SchemeFolder[];

function mapFolders(folders: Folders, change: (folder: SchemeFolder) => SchemeFolder | null): SchemeFolder[] {
  return folders.flatMap((folder) => {
    const own = change(folder);
    return own ? [{ ...own, folders: mapFolders(own.folders, change) }] : [];
  });
}

export function changeFolder(scheme: Scheme, id: string, part: { readonly name?: string; readonly rule?: Rule | null }): Scheme {
  return { ...scheme, folders: mapFolders(scheme.folders, (folder) => (folder.id === id ? { ...folder, ...part } : folder)) };
}

/** Takes out a folder with those in it. */
export function removeFolder(scheme: Scheme, id: string): Scheme {
  return { ...scheme, folders: mapFolders(scheme.folders, (folder) => (folder.id === id ? null : folder)) };
}

/** Puts a folder in as the last of `parent`; null: of the tree. */
export function addFolder(scheme: Scheme, parent: string | null, folder: SchemeFolder): Scheme {
  if (parent === null) return { ...scheme, folders: [...scheme.folders, folder] };
  return {
    ...scheme,
    folders: mapFolders(scheme.folders, (own) => (own.id === parent ? { ...own, folders: [...own.folders, folder] } : own)),
  };
}

export function folderOfId(scheme: Scheme, id: string): SchemeFolder | null {
  return (
    allFolders(scheme.folders)
      .find((entry) => entry.id === id)
      ?.way.at(-1) ?? null
  );
}

/** Id of the folder that a folder lies in; null at the top. */
export function parentOfId(scheme: Scheme, id: string): string | null {
  return (
    allFolders(scheme.folders)
      .find((entry) => entry.id === id)
      ?.way.at(-2)?.id ?? null
  );
}

/** Whether a folder can go into another: never into itself, or what lies in it, or where it is. */
export function canMoveInto(scheme: Scheme, id: string, parent: string | null): boolean {
  const folder = folderOfId(scheme, id);
  if (!folder || parent === id || parentOfId(scheme, id) === parent) return false;
  return parent === null || !allFolders(folder.folders).some((inner) => inner.id === parent);
}

export function moveFolder(scheme: Scheme, id: string, parent: string | null): Scheme {
  const folder = folderOfId(scheme, id);
  return folder && canMoveInto(scheme, id, parent) ? addFolder(removeFolder(scheme, id), parent, folder) : scheme;
}

/** One place up (-1) or down (1) among those beside it: the first rule that fits wins. */
export function shiftFolder(scheme: Scheme, id: string, by: -1 | 1): Scheme {
  const shifted = (folders: Folders): Folders => {
    const at = folders.findIndex((folder) => folder.id === id);
    const to = at + by;
    if (at >= 0 && to >= 0 && to < folders.length) {
      const out = [...folders];
      [out[at], out[to]] = [out[to]!, out[at]!];
      return out;
    }
    return folders.map((folder) => ({ ...folder, folders: shifted(folder.folders) }));
  };
  return { ...scheme, folders: shifted(scheme.folders) };
}
