/** Where the renditions and caches of a project are at home: new ones go there, and what stands elsewhere can be brought. */
import Joi from 'joi';
import { placeForm } from '../forms/atoms';
import { below, fileName, folderOf, type Place } from '../media/item';
import { RENDITION_KINDS, type RenditionKind } from './read-order';

/** Kinds of renditions, and what is only kept to be quicker: previews for playing. */
export type HomeKind = RenditionKind | 'cache';
export const HOME_KINDS: readonly HomeKind[] = [...RENDITION_KINDS, 'cache'];

/** The folder of each kind; none for those that have no home. */
export type Homes = Readonly<Partial<Record<HomeKind, Place>>>;

/** What is asked to become of homes: null takes one away, what is not named stays. */
export type HomesEdit = Readonly<Partial<Record<HomeKind, Place | null>>>;

/** A home is a folder of its own, below the root of a shelf, that stocktakes see. */
const homeForm = placeForm.keys({
  path: Joi.string()
    .max(4096)
    .custom((path: string, helpers) => (path.split('/').some((name) => name === '' || name.startsWith('.')) ? helpers.error('any.invalid') : path))
    .required()
    .messages({ 'any.invalid': 'A home is a folder on a shelf; neither it nor those around it begin with a dot.' }),
});

export const homesForm = Joi.object<HomesEdit>(Object.fromEntries(HOME_KINDS.map((kind) => [kind, homeForm.allow(null)]))).min(1);

/** Where new files go: a place, and a folder in it. */
export interface Whereto {
  readonly destination: Place | null;
  readonly folderName: string;
}

/** The same with the home for a destination, as long as no other is chosen. */
export function atHome<W extends Whereto>(where: W, home: Place | undefined): W {
  if (where.destination || !home) return where;
  return { ...where, destination: { ...home, path: folderOf(home.path) }, folderName: fileName(home.path) };
}

export function rootOf({ destination, folderName }: Whereto): Place | null {
  return destination && below(destination, folderName);
}

export function edited(homes: Homes, edit: HomesEdit): Homes {
  const next: Partial<Record<HomeKind, Place>> = {};
  for (const kind of HOME_KINDS) {
    const own = edit[kind] === undefined ? homes[kind] : edit[kind];
    if (own) next[kind] = own;
  }
  return next;
}
