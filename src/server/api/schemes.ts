/** Schemes of standard folders: those that come with the application, and the house's own. */
import { randomUUID } from 'node:crypto';
import { idForm } from '../../core/forms/atoms';
import { changedSchemeForm, newSchemeForm, schemeFileForm, SCHEME_FORMAT } from '../../core/forms/scheme-form';
import { OWN_SCHEMES } from '../../core/scheme/own-schemes';
import { schemeFindings, type Scheme } from '../../core/scheme/scheme';
import type { House } from '../house';
import { endpoint, endpointWithBody } from './endpoint';
import { notFound, Problem } from './problem';
import type { SchemeView } from './views';

function schemeOf(house: House, id: string | undefined): SchemeView {
  const shipped = OWN_SCHEMES.find((entry) => entry.id === id);
  if (shipped) return { scheme: shipped, isOwn: false, revision: 0 };
  const kept = house.catalogue.schemes.get(id ?? '');
  if (!kept) throw notFound('scheme');
  return { ...kept, isOwn: true };
}

export const listSchemes = endpoint(({ house }): SchemeView[] => [
  ...OWN_SCHEMES.map((scheme) => ({ scheme, isOwn: false, revision: 0 })),
  ...house.catalogue.schemes.list().map((kept) => ({ ...kept, isOwn: true })),
]);

/** A scheme that cannot name its folders is not kept. */
function mustBeSound(scheme: Scheme): Scheme {
  const stop = schemeFindings(scheme).find(({ severity }) => severity === 'stops');
  if (stop) throw new Problem(400, 'bad-scheme', stop.message, stop.hint);
  return scheme;
}

function keep(house: House, scheme: Scheme): SchemeView {
  const revision = house.catalogue.schemes.put(mustBeSound(scheme), new Date().toISOString());
  house.tell({ type: 'changed' });
  return { scheme, isOwn: true, revision };
}

export const addScheme = endpointWithBody(newSchemeForm, ({ house, body }) => keep(house, { id: randomUUID(), ...body }));

/** From a file that was exported. */
export const importScheme = endpointWithBody(schemeFileForm, ({ house, body }) => {
  const { format: _format, version: _version, ...scheme } = body;
  return keep(house, { id: randomUUID(), ...scheme });
});

function mustBeOwn({ scheme, isOwn }: SchemeView): void {
  if (isOwn) return;
  const hint = 'Duplicate it and change the copy.';
  throw new Problem(409, 'shipped-scheme', `"${scheme.name}" comes with the application and stays as it is.`, hint);
}

/** Who began from another state than the one that is kept is asked first. */
function mustBeNewest({ scheme, revision }: SchemeView, begunFrom: number): void {
  if (begunFrom === revision) return;
  const hint = 'Ask for it again, and send the revision you saw.';
  throw new Problem(409, 'scheme-changed', `"${scheme.name}" was saved elsewhere since you began to change it.`, hint);
}

/** `revision` 0 puts back one that was removed. */
export const changeScheme = endpointWithBody(changedSchemeForm, ({ house, params, body: { revision, ...body } }) => {
  const id = idForm.validate(params.scheme).error ? undefined : params.scheme;
  if (revision === 0 && id !== undefined && !OWN_SCHEMES.some((entry) => entry.id === id) && !house.catalogue.schemes.get(id))
    return keep(house, { ...body, id });
  const view = schemeOf(house, id);
  mustBeOwn(view);
  mustBeNewest(view, revision);
  return keep(house, { ...body, id: view.scheme.id });
});

/** `revision` of the address: only where it is still that one. */
export const removeScheme = endpoint(({ house, params, query }) => {
  const view = schemeOf(house, params.scheme);
  mustBeOwn(view);
  const seen = query.get('revision');
  if (seen !== null) mustBeNewest(view, Number(seen));
  house.catalogue.schemes.remove(view.scheme.id);
  house.tell({ type: 'changed' });
});

/** The scheme as a file of its own. */
export const exportScheme = endpoint(({ house, params }) => {
  const { id: _id, ...scheme } = schemeOf(house, params.scheme).scheme;
  const text = `${JSON.stringify({ format: SCHEME_FORMAT, version: 1, ...scheme }, null, 2)}\n`;
  const name = scheme.name.replace(/[^\w. -]/g, '_');
  return new Response(text, {
    headers: { 'content-type': 'application/json', 'content-disposition': `attachment; filename="${name}.scheme.json"`, 'cache-control': 'no-store' },
  });
});
