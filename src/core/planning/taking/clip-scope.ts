/** Which clips of a project a plan is about. */
import Joi from 'joi';
import { idForm, timelineIdsForm } from '../../forms/atoms';
import { isInside } from '../../project/bins';
import type { Clip } from '../../project/clip';
import type { Snapshot } from '../plan/snapshot';

export type ClipScope =
  | { readonly of: 'project' }
  /** A bin with all in it. */
  | { readonly of: 'bin'; readonly path: string }
  | { readonly of: 'timelines'; readonly timelineIds: readonly string[] }
  | { readonly of: 'clips'; readonly clipIds: readonly string[] };

export const clipScopeForm = Joi.alternatives(
  Joi.object({ of: Joi.valid('project').required() }),
  Joi.object({ of: Joi.valid('bin').required(), path: Joi.string().allow('').max(6_500).required() }),
  Joi.object({ of: Joi.valid('timelines').required(), timelineIds: timelineIdsForm.required() }),
  Joi.object({ of: Joi.valid('clips').required(), clipIds: Joi.array().items(idForm).max(100_000).required() }),
);

export function clipsInScope({ clips, timelines }: Pick<Snapshot, 'clips' | 'timelines'>, scope: ClipScope): readonly Clip[] {
  if (scope.of === 'project') return clips;
  if (scope.of === 'bin') return clips.filter(({ binPath }) => scope.path === '' || isInside(binPath, scope.path));
  const wanted = new Set(
    scope.of === 'clips' ? scope.clipIds : timelines.filter(({ id }) => scope.timelineIds.includes(id)).flatMap(({ clipIds }) => clipIds),
  );
  return clips.filter(({ id }) => wanted.has(id));
}

/** Timelines that a scope names, which must be there. */
export function timelinesNamed(scope: ClipScope): readonly string[] {
  return scope.of === 'timelines' ? scope.timelineIds : [];
}
