import { CloseButton } from '@mantine/core';
import { joinClipsForm } from '../../core/planning/join-clips/settings';
import { PlanSheet } from '../shared/PlanSheet';
import { plural } from '../shared/figures';
import { usePlan } from '../shared/use-plan';

const ALL = {};

/** The plan sheet that makes one clip of those that are one source. */
export function JoinSheet({ projectId, onClose }: { projectId: string; onClose: () => void }) {
  const state = usePlan('join-clips', projectId, ALL, joinClipsForm);
  const rows = state.plan?.detail.rows ?? [];
  return (
    <PlanSheet state={state} idle="" runLabel={(plan) => (plan.blocked ? 'Run this plan' : `Join ${plural(plan.headline.value, 'clip')}`)}>
      <div className="sheet-fields">
        <div className="side-by-side">
          <span className="soft grow">Clips of one source</span>
          <CloseButton size="sm" aria-label="Close" onClick={onClose} />
        </div>
        {rows.length > 0 && (
          <ul className="joined">
            {rows.map((row, index) => (
              <li key={index}>
                <b>{row.name}</b> {row.bin && <span className="soft">in {row.bin}</span>}
                <div className="tiny soft">
                  {row.why === null ? `with ${row.others.join(', ')}` : `stays apart from ${row.others.join(', ')}: ${row.why}`}
                </div>
              </li>
            ))}
          </ul>
        )}
      </div>
    </PlanSheet>
  );
}
