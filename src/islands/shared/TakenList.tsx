import type { TakenDetail } from '../../core/planning/pull';
import { TakenTable } from './TakenTable';
import type { PlanState } from './use-plan';

/** What is taken for the chosen timelines; says what to do while there is none. */
export function TakenList({ projectId, hasTimelines, state }: { projectId: string; hasTimelines: boolean; state: PlanState<TakenDetail> }) {
  if (!hasTimelines) {
    return (
      <div className="empty">
        <b>No timeline yet</b>
        Timelines tell which media is used. Bring one in under <a href={`/p/${projectId}/timelines`}>Timelines</a>.
      </div>
    );
  }
  return (
    <TakenTable
      detail={state.plan?.detail}
      empty={
        state.plan && (
          <div className="empty">
            <b>Nothing to take</b>
            {state.plan.blocked}
          </div>
        )
      }
    />
  );
}
