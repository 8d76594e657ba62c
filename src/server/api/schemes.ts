/** Schemes of standard folders: those that come with the application, and the house's own. */
import { randomUUID } from 'node:crypto';
import { newSchemeForm, schemeFileForm, SCHEME_FORMAT } from '../../core/forms/scheme-form';
import { OWN_SCHEMES } from '../../core/scheme/own-schemes';
import { schemeFindings, type Scheme } from '../../core/scheme/scheme';
import type { House } from '../house';
import { endpoint, endpointWithBody } from './endpoint';
import { notFound, Problem } from './problem';
import type { SchemeView } from './views';

function schemeOf(house: House, id: string | undefined): { scheme: Scheme; isOwn: boolean } {
  const shipped = OWN_SCHEMES.find((entry) => entry.id === id);
  const scheme = shipped ?? house.catalogue.schemes.get(id ?? '');
  if (!scheme) throw notFound('scheme');
  return { scheme, isOwn: !shipped };
}

export const listSchemes = endpoint(({ house }): SchemeView[] => [
  ...OWN_SCHEMES.map((scheme) => ({ scheme, isOwn: false })),
  ...house.catalogue.schemes.list().map((scheme) => ({ scheme, isOwn: true })),
]);

/** A scheme that cannot name its folders is not kept. */
function mustBeSound(scheme: Scheme): Scheme {
  const stop = schemeFindings(scheme).find(({ severity }) => severity === 'stops');
  if (stop) throw new Problem(400, 'bad-scheme', stop.message, stop.hint);
  return scheme;
}

function keep(house: House, scheme: Scheme): SchemeView {
  house.catalogue.schemes.put(mustBeSound(scheme), new Date().toISOString());
  house.tell({ type: 'changed' });
  return { scheme, isOwn: true };
}

export const addScheme = endpointWithBody(newSchemeForm, ({ house, body }) => keep(house, { id: randomUUID(), ...body }));

/** From a file that was exported. */
export const importScheme = endpointWithBody(schemeFileForm, ({ house, body }) => {
  const { format: _format, version: _version, ...scheme } = body;
  return keep(house, { id: randomUUID(), ...scheme });
});

export const changeScheme = endpointWithBody(newSchemeForm, ({ house, params, body }) => {
  const { scheme, isOwn } = schemeOf(house, params.scheme);
  if (!isOwn)
    throw new Problem(409, 'shipped-scheme', `"${scheme.name}" comes with the application and stays as it is.`, 'Duplicate it and change the copy.');
  return keep(house, { ...body, id: scheme.id });
});

export const removeScheme = endpoint(({ house, params }) => {
  const { scheme, isOwn } = schemeOf(house, params.scheme);
  if (!isOwn) throw new Problem(409, 'shipped-scheme', `"${scheme.name}" comes with the application and stays.`);
  house.catalogue.schemes.remove(scheme.id);
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
