import type { TakenCounts, TakenGroup, TakenLine } from '../../core/planning/taking/taken';
import { Empty } from './Empty';
import { Face } from './Face';
import { PlanList } from './PlanList';
import { TAKEN_COLUMNS } from './taken-columns';
import type { TimelineChoice } from './TakeSettings';
import type { PlanState } from './use-plan';

const GROUPS: readonly (readonly [TakenGroup, string])[] = [
  ['trim', 'Cut without re-encoding'],
  ['frames', 'Frames copied'],
  ['whole', 'Copied whole'],
  ['offline', 'Offline, not taken'],
];

/** The parts of the list, each with how many there are. */
function groupsOf(counts: TakenCounts | undefined) {
  const parts = GROUPS.map(([value, label]) => ({ value: value, label: counts ? `${label} · ${counts[value]}` : label }));
  return [{ value: '', label: 'All that is used' }, ...parts];
}

interface Props {
  readonly projectId: string;
  readonly kind: 'pull' | 'crate';
  readonly choice: TimelineChoice;
  readonly state: PlanState<TakenCounts>;
}

/** What is taken of each source for the chosen timelines, as keep bars; says what to do while there is none. */
export function TakenList({ projectId, kind, choice, state }: Props) {
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
    <PlanList<TakenLine>
      projectId={projectId}
      kind={kind}
      state={state}
      // Its plan looks at the disks: the list is asked for when that is made.
      settings={state.madeWith}
      label="What is taken"
      sort="name"
      columns={TAKEN_COLUMNS}
      rowKey={({ key }) => key}
      noun="source"
      find="file, folder or codec"
      groups={groupsOf(state.plan?.detail)}
      empty={<Empty title="Nothing to take">{state.plan?.blocked}</Empty>}
    />
  );
}
