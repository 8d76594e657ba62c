/** Folders that move whole are looked at again before their first file goes: what came into them since would stay behind. */
import { fileName, joinPath, placeKey, type Place } from '../../../core/media/item';
import type { MoveStep } from '../../../core/planning/plan/step';
import type { Catalogue } from '../../catalogue/catalogue';
import type { StepRow } from '../../catalogue/runs';
import { allBelow } from '../../stock/all-below';
import type { Places } from '../../stock/mounts';
import { explainError, StepFailure } from '../../errors/explain-error';

interface GrownContext {
  readonly catalogue: Catalogue;
  readonly places: Pick<Places, 'resolve'>;
  readonly runId: number;
}

/** Tells of a step whose folder holds more than the run takes along; null where it does not, or where its first file went already. */
export function grownFolders(rows: readonly StepRow[], context: GrownContext): (step: MoveStep) => StepFailure | null {
  const roots = new Map(rows.flatMap(({ step }) => (step.action === 'move' && step.whole ? [[placeKey(step.whole), step.whole] as const] : [])));
  if (roots.size === 0) return () => null;
  const failures = new Map<string, StepFailure>();
  const going = goingFrom(context);
  for (const [key, root] of roots) {
    const { paths, isBegun } = going.get(key)!;
    const failure = isBegun ? null : lookInto(root, paths, context);
    if (failure) failures.set(key, failure);
  }
  return ({ whole }) => (whole ? (failures.get(placeKey(whole)) ?? null) : null);
}

interface Going {
  /** What the run takes, by its paths on the shelf. */
  readonly paths: Set<string>;
  isBegun: boolean;
}

function goingFrom({ catalogue, runId }: GrownContext): Map<string, Going> {
  const out = new Map<string, Going>();
  for (const { step, state, pending } of catalogue.runs.steps(runId)) {
    if (step.action !== 'move' || !step.whole) continue;
    const key = placeKey(step.whole);
    const own = out.get(key) ?? { paths: new Set<string>(), isBegun: false };
    out.set(key, own);
    own.isBegun ||= state === 'done' || pending !== null;
    for (const path of step.frames ? step.frames.names.map((name) => joinPath(step.from!.path, name)) : [step.from!.path]) own.paths.add(path);
  }
  return out;
}

function lookInto(root: Place, going: ReadonlySet<string>, { places }: GrownContext): StepFailure | null {
  const name = fileName(root.path);
  try {
    const { files, cannotGo } = allBelow(places.resolve(root));
    const came = files.find((path) => !going.has(joinPath(root.path, path))) ?? cannotGo[0]?.path;
    if (came === undefined) return null;
    return new StepFailure(
      `"${came}" came into ${name} after the plan was made and would stay behind. Nothing of ${name} was moved: look for changes on its shelf, then make a new plan.`,
    );
  } catch (error) {
    return new StepFailure(explainError(error));
  }
}
