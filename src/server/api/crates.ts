import { crateEditForm } from '../../core/forms/crate-form';
import { endpoint, endpointWithBody } from './endpoint';
import { notFound } from './problem';
import { projectOf } from './projects';

export const listCrates = endpoint(({ house, params }) => house.study({ ask: 'crates', projectId: params.project! }));

export const editCrate = endpointWithBody(crateEditForm, ({ house, params, body }) => {
  const project = projectOf(house, params.project);
  const { crates } = house.catalogue;
  const crate = crates.get(params.crate ?? '');
  if (crate?.projectId !== project.id) throw notFound('crate');
  if (body.lockedUntil !== undefined) crates.lock(crate.id, body.lockedUntil);
  if (body.handedOver !== undefined) crates.accept(crate.id, body.handedOver ? new Date().toISOString() : null);
  house.tell({ type: 'changed' });
});
