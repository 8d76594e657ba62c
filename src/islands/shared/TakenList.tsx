import type { TakenDetail } from '../../core/planning/taking/taken';
import { TakenTable } from './TakenTable';
import type { PlanState } from './use-plan';
import { Empty } from './Empty';
import { Face } from './Face';
import type { TimelineChoice } from './TakeSettings';

/** What is taken for the chosen timelines; says what to do while there is none. */
export function TakenList({ projectId, choice, state }: { projectId: string; choice: TimelineChoice; state: PlanState<TakenDetail> }) {
  if (!choice.asked.isThere) return <Face asked={choice.asked}>{null}</Face>;
  if (choice.timelines.length === 0) {
    return (
      <Empty title="No timeline yet">
        Timelines tell which media is used. Bring one in under <a href={`/p/${projectId}/timelines`}>Timelines</a>.
      </Empty>
    );
  }
  const [wrong] = Object.values(state.invalid);
  if (!state.plan && wrong !== undefined) return <Empty title="No plan yet">{wrong}</Empty>;
  return (
    <TakenTable asked={state.asked} detail={state.plan?.detail} empty={state.plan && <Empty title="Nothing to take">{state.plan.blocked}</Empty>} />
  );
}
