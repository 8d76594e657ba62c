import type { TakenDetail } from '../../core/planning/taking/taken';
import { TakenTable } from './TakenTable';
import type { PlanState } from './use-plan';
import { Empty } from './Empty';

/** What is taken for the chosen timelines; says what to do while there is none. */
export function TakenList({ projectId, hasTimelines, state }: { projectId: string; hasTimelines: boolean; state: PlanState<TakenDetail> }) {
  if (!hasTimelines) {
    return (
      <Empty title="No timeline yet">
        Timelines tell which media is used. Bring one in under <a href={`/p/${projectId}/timelines`}>Timelines</a>.
      </Empty>
    );
  }
  return <TakenTable detail={state.plan?.detail} empty={state.plan && <Empty title="Nothing to take">{state.plan.blocked}</Empty>} />;
}
