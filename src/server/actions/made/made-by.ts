import type { Step } from '../../../core/planning/plan/step';
import type { MadeFile } from '../../../core/planning/undo/undo';
import type { StepRow } from '../../catalogue/runs';

/** The one file that a step made at its `to`; none where it stood there before. */
export function fileMade({ step, outcome, pending }: StepRow & { readonly step: Step }): readonly MadeFile[] {
  const { from, to, mustHold } = step;
  const left = outcome ?? pending;
  if (!to || !left?.sha256 || left.wasThere) return [];
  const copyOf = from ? { listed: to, source: from, sourcePrint: mustHold?.fingerprint ?? null } : null;
  return [{ place: to, bytes: left.bytes, sha256: left.sha256, identity: left.identity ?? null, copyOf, isLast: false }];
}
