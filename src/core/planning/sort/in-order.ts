/**
 * Moves in an order in which nothing is in another's way: what takes the place of another goes a phase later. Where they
 * wait for each other in a circle, one of them goes by way of a third name.
 */
import { fileName, folderOf, joinPath, placeKey, type Place } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { fittingName } from '../../naming/safe-name';
import { movedItem, type MoveStep } from '../plan/step';

export const FIRST_PHASE = 2;

export function inOrder(steps: readonly MoveStep[]): MoveStep[] {
  const sources = new Map<string, number[]>();
  steps.forEach((step, index) => {
    const key = keyOf(movedItem(step, 'from'));
    sources.set(key, [...(sources.get(key) ?? []), index]);
  });
  const before = steps.map((step, index) => (sources.get(keyOf(movedItem(step, 'to'))) ?? []).filter((other) => other !== index));
  const cut = circles(before);
  const phases: (number | undefined)[] = steps.map(() => undefined);
  const phaseOf = (index: number): number => {
    const own = phases[index] ?? Math.max(FIRST_PHASE, ...before[index]!.map((other) => 1 + (cut.has(other) ? FIRST_PHASE : phaseOf(other))));
    phases[index] = cut.has(index) ? Math.max(own, FIRST_PHASE + 1) : own;
    return phases[index];
  };
  // Chains may be long: from their ends, so that no call goes deep.
  for (const index of fromTheEnds(before, cut)) phaseOf(index);
  const taken = new Set(steps.flatMap((step) => [keyOf(step.from!), keyOf(step.to!)]));
  return steps.flatMap((step, index): MoveStep[] =>
    cut.has(index) ? byWayOfAThird(step, phaseOf(index), taken) : [{ ...step, phase: phaseOf(index) }],
  );
}

function keyOf(place: Place): string {
  return foldPath(placeKey(place));
}

/** One of each circle of moves that wait for each other. */
function circles(before: readonly (readonly number[])[]): Set<number> {
  const cut = new Set<number>();
  const seen = new Uint8Array(before.length);
  for (let start = 0; start < before.length; start++) {
    const way: { index: number; next: number }[] = seen[start] === 0 ? [{ index: start, next: 0 }] : [];
    while (way.length > 0) {
      const top = way.at(-1)!;
      seen[top.index] = 1;
      const other = before[top.index]![top.next++];
      if (other === undefined) {
        seen[top.index] = 2;
        way.pop();
      } else if (seen[other] === 1) cut.add(other);
      else if (seen[other] === 0) way.push({ index: other, next: 0 });
    }
  }
  return cut;
}

/** Every move behind those it waits for. */
function fromTheEnds(before: readonly (readonly number[])[], cut: ReadonlySet<number>): number[] {
  const out: number[] = [];
  const seen = new Uint8Array(before.length);
  for (let start = 0; start < before.length; start++) {
    const way: { index: number; next: number }[] = seen[start] === 0 ? [{ index: start, next: 0 }] : [];
    while (way.length > 0) {
      const top = way.at(-1)!;
      seen[top.index] = 1;
      const other = before[top.index]![top.next++];
      if (other === undefined) out.push(way.pop()!.index);
      else if (seen[other] === 0 && !cut.has(other)) way.push({ index: other, next: 0 });
    }
  }
  return out;
}

function byWayOfAThird(step: MoveStep, phase: number, taken: Set<string>): MoveStep[] {
  const { to, frames } = step;
  const name = fileName(to!.path);
  const dot = name.lastIndexOf('.');
  const [stem, extension] = dot > 0 && !frames ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
  let number = 1;
  const third = () => ({ ...to!, path: joinPath(folderOf(to!.path), fittingName(stem, ` on its way ${number}${extension}`)) });
  while (taken.has(keyOf(third()))) number++;
  const between = third();
  taken.add(keyOf(between));
  const reason = `${step.reason}, by way of another name: two change places`;
  const same = frames && { ...frames, asNames: frames.names, to: frames.from };
  return [
    { ...step, phase: FIRST_PHASE, to: between, reason, originalAfter: step.originalBefore, ...(same ? { frames: same } : {}) },
    { ...step, phase, from: between, reason },
  ];
}
