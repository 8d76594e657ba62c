/** Schemes of standard folders: those that come with the application, and the house's own. */
import { randomUUID } from 'node:crypto';
import { idForm } from '../../core/forms/atoms';
import { SCHEME_FORMAT, type ChangedScheme, type SchemeFile } from '../../core/forms/scheme-form';
import { OWN_SCHEMES } from '../../core/scheme/own-schemes';
import { schemeFindings, type Scheme } from '../../core/scheme/scheme';
import { notFound, Problem } from '../errors/problem';
import type { Actor, House } from './use-case';

/** A scheme as screens and scripts get it. `isOwn`: the house's own, which can be changed. `revision` counts its changes; 0 for what comes with the application. */
export interface SchemeView {
  readonly scheme: Scheme;
  readonly isOwn: boolean;
  readonly revision: number;
}

function schemeOf(house: House, id: string | undefined): SchemeView {
  const shipped = OWN_SCHEMES.find((entry) => entry.id === id);
  if (shipped) return { scheme: shipped, isOwn: false, revision: 0 };
  const kept = house.catalogue.schemes.get(id ?? '');
  if (!kept) throw notFound('scheme');
  return { ...kept, isOwn: true };
}

export const listSchemes = (house: House): SchemeView[] => [
  ...OWN_SCHEMES.map((scheme) => ({ scheme, isOwn: false, revision: 0 })),
  ...house.catalogue.schemes.list().map((kept) => ({ ...kept, isOwn: true })),
];

/** A scheme that cannot name its folders is not kept. */
function mustBeSound(scheme: Scheme): Scheme {
  const stop = schemeFindings(scheme).find(({ severity }) => severity === 'stops');
  if (stop) throw new Problem('bad-scheme', stop.message, stop.hint);
  return scheme;
}

function keep(house: House, scheme: Scheme): SchemeView {
  const revision = house.catalogue.schemes.put(mustBeSound(scheme), new Date().toISOString());
  house.changed('schemes');
  return { scheme, isOwn: true, revision };
}

export const addScheme = (house: House, _actor: Actor, scheme: Omit<Scheme, 'id'>): SchemeView => keep(house, { id: randomUUID(), ...scheme });

/** From a file that was exported. */
export function importScheme(house: House, actor: Actor, { format: _format, version: _version, ...scheme }: SchemeFile): SchemeView {
  return addScheme(house, actor, scheme);
}

function mustBeOwn({ scheme, isOwn }: SchemeView): void {
  if (isOwn) return;
  const hint = 'Duplicate it and change the copy.';
  throw new Problem('shipped-scheme', `"${scheme.name}" comes with the application and stays as it is.`, hint);
}

/** Who began from another state than the one that is kept is asked first. */
function mustBeNewest({ scheme, revision }: SchemeView, begunFrom: number): void {
  if (begunFrom === revision) return;
  const hint = 'Ask for it again, and send the revision you saw.';
  throw new Problem('scheme-changed', `"${scheme.name}" was saved elsewhere since you began to change it.`, hint);
}

/** `revision` 0 puts back one that was removed. */
export function changeScheme(
  house: House,
  _actor: Actor,
  { id: asked, change: { revision, ...scheme } }: { readonly id: string | undefined; readonly change: ChangedScheme },
): SchemeView {
  const id = idForm.validate(asked).error ? undefined : asked;
  if (revision === 0 && id !== undefined && !OWN_SCHEMES.some((entry) => entry.id === id) && !house.catalogue.schemes.get(id))
    return keep(house, { ...scheme, id });
  const view = schemeOf(house, id);
  mustBeOwn(view);
  mustBeNewest(view, revision);
  return keep(house, { ...scheme, id: view.scheme.id });
}

/** `revision`: only where it is still that one; null: whichever it is. */
export function removeScheme(
  house: House,
  _actor: Actor,
  { id, revision }: { readonly id: string | undefined; readonly revision: number | null },
): void {
  const view = schemeOf(house, id);
  mustBeOwn(view);
  if (revision !== null) mustBeNewest(view, revision);
  house.catalogue.schemes.remove(view.scheme.id);
  house.changed('schemes');
}

/** The scheme as a file of its own, and what that is called. */
export function schemeFile(house: House, id: string | undefined): { name: string; text: string } {
  const { id: _id, ...scheme } = schemeOf(house, id).scheme;
  return { name: `${scheme.name}.scheme.json`, text: `${JSON.stringify({ format: SCHEME_FORMAT, version: 1, ...scheme }, null, 2)}\n` };
}
