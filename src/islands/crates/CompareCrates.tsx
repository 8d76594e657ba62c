import { Button } from '@mantine/core';
import { useMemo, type ReactNode } from 'react';
import { changeWords, FILE_CHANGES, type Against, type ComparedFile } from '../../core/planning/compare-crates/compare-crates';
import { compareCratesForm } from '../../core/planning/compare-crates/settings';
import type { CrateView } from '../../server/projects/views/crate';
import { Bytes } from '../shared/figures';
import { Empty } from '../shared/Empty';
import { InStage } from '../shared/InStage';
import { PathText } from '../shared/PathText';
import { PlanList } from '../shared/PlanList';
import { PlanSheet } from '../shared/PlanSheet';
import { StageHead } from '../shared/StageHead';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { KeepPlan } from '../shared/KeepPlan';

const size = (bytes: number | null) => (bytes === null ? <span className="soft">–</span> : <Bytes value={bytes} />);

const sizeColumn = (key: string, title: string, of: (file: ComparedFile) => number | null): Column<ComparedFile> => ({ key, title, width: '80px', numeric: true, unsorted: true, cell: (file) => size(of(file)) }); // prettier-ignore

const columnsFor = (against: Against): readonly Column<ComparedFile>[] => [
  { key: 'path', title: 'File', width: 'minmax(220px, 1.4fr)', cell: ({ path }) => <PathText path={path} /> },
  {
    key: 'change',
    title: 'Difference',
    width: 'minmax(230px, 1fr)',
    unsorted: true,
    cell: ({ change, was, words }) => (
      <span className={change === 'same' || change === 'part' ? 'soft' : ''} title={was === null ? words : `was ${was}`}>
        {changeWords(change, against)}
        {words && <span className="soft"> · {words}</span>}
      </span>
    ),
  },
  ...(against === 'crate'
    ? [sizeColumn('before', 'Before', ({ beforeBytes }) => beforeBytes), sizeColumn('after', 'After', ({ afterBytes }) => afterBytes)]
    : [sizeColumn('size', 'Size', ({ beforeBytes, afterBytes }) => afterBytes ?? beforeBytes)]),
];
const COLUMNS = { crate: columnsFor('crate'), project: columnsFor('project') };

/** What one crate holds and another does not, or the project as it is now (`after` null). */
export function CompareCrates({
  projectId,
  before,
  after,
  tabs,
  onBack,
}: {
  projectId: string;
  before: CrateView;
  after: CrateView | null;
  tabs: ReactNode;
  onBack: () => void;
}) {
  const afterId = after?.id ?? null;
  const settings = useMemo(() => ({ before: before.id, after: afterId }), [before.id, afterId]);
  const state = usePlan('compare-crates', projectId, settings, compareCratesForm);
  const counts = state.plan?.detail.counts;
  const against = after ? 'crate' : 'project';
  const groups = [
    { value: '', label: 'What differs' },
    { value: 'all', label: 'All media' },
    ...FILE_CHANGES.filter((change) => (counts?.[change] ?? 0) > 0).map((change) => ({ value: change, label: changeWords(change, against) })),
  ];
  return (
    <InStage
      sheet={
        <PlanSheet state={state} idle="" runLabel={null}>
          <KeepPlan
            projectId={projectId}
            kind="compare-crates"
            settings={settings}
            name={`${after ? 'Crates' : 'Crate and project'} compared`}
            disabled={!state.plan}
          />
          <Button size="xs" variant="default" onClick={onBack}>
            Back to the crates
          </Button>
        </PlanSheet>
      }
    >
      <StageHead
        title={after ? 'Compare crates' : 'Compare with the project'}
        lead={after ? `${before.name}, then ${after.name}` : `${before.name}, then the project as it is now`}
      >
        {tabs}
      </StageHead>
      <PlanList<ComparedFile>
        projectId={projectId}
        kind="compare-crates"
        state={state}
        settings={state.madeWith}
        label={after ? 'Media of both crates' : 'Media of the crate and the project'}
        sort="path"
        columns={COLUMNS[against]}
        rowKey={({ path, change }) => `${change} ${path}`}
        noun="file"
        find="file or folder"
        groups={groups}
        empty={<Empty title="No media differs">{null}</Empty>}
      />
    </InStage>
  );
}
