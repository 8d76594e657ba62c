/** Crates that were made: locked, handed over. */
import type { CrateEdit } from '../../core/forms/crate-form';
import { notFound } from '../errors/problem';
import { projectOf } from './projects';
import type { Actor, House } from './use-case';

export function editCrate(
  house: House,
  actor: Actor,
  { projectId, crateId, ...edit }: CrateEdit & { readonly projectId: string; readonly crateId: string | undefined },
): void {
  const project = projectOf(house, projectId);
  const { crates } = house.catalogue;
  const crate = crates.get(crateId ?? '');
  if (crate?.projectId !== project.id) throw notFound('crate');
  if (edit.lockedUntil !== undefined) crates.lock(crate.id, edit.lockedUntil, actor);
  if (edit.handedOver !== undefined) crates.accept(crate.id, edit.handedOver ? new Date().toISOString() : null, actor);
  house.changed('crates', project.id);
}
