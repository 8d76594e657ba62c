import { Button, Checkbox, Select } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { CopiesRow } from '../../core/planning/check-copies/check-copies';
import { checkCopiesForm, type CheckCopiesSettings } from '../../core/planning/check-copies/settings';
import type { ShelfView } from '../../server/stock/views/shelf';
import { formatCount } from '../../core/words/figures';
import { api } from '../shared/api';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { goTo } from '../shared/go-to';
import { InStage } from '../shared/InStage';
import { tellError } from '../shared/notices';
import { PathText } from '../shared/PathText';
import { PlanList } from '../shared/PlanList';
import { PlanSheet } from '../shared/PlanSheet';
import { SheetField } from '../shared/SheetField';
import { StageHead } from '../shared/StageHead';
import { stagePath } from '../shared/stages';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { remember, useRemembered } from '../shared/use-remembered';
import { isGoing, useStocktake } from '../shared/use-stocktake';

type Kept = Omit<CheckCopiesSettings, 'shelfId'>;
const initial = (): Kept => ({ wanted: 2, readAgain: false });

/** File by file, where verified copies of what is on a card are: before it is formatted. */
export function CheckCopies({ projectId, shelf, onLeave }: { projectId: string; shelf: ShelfView; onLeave: () => void }) {
  const [kept, change] = useRemembered<Kept>(projectId, 'check-copies', initial);
  const settings = useMemo(() => (kept && shelf.attached ? { ...kept, shelfId: shelf.id } : null), [kept, shelf.attached, shelf.id]);
  const state = usePlan('check-copies', projectId, settings, checkCopiesForm);
  const counts = state.plan?.detail.counts;
  const groups = useMemo(
    () => [
      { value: '', label: 'All files' },
      ...GROUPS.flatMap(([value, label]) => (counts?.[value] ? [{ value, label: `${label} (${formatCount(counts[value])})` }] : [])),
    ],
    [counts],
  );
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle={shelf.attached ? null : `Plug in ${shelf.name} to check it.`}
          runLabel={({ lines }) => {
            const reads = lines.find(({ label }) => label === 'Read and compared')?.files ?? 0;
            return reads > 0 ? `Read ${plural(reads, 'file')} and compare` : 'Make the receipt';
          }}
        >
          {kept && (
            <SheetField label="Settings">
              <Select
                size="xs"
                aria-label="Copies wanted"
                data={WANTED}
                value={String(kept.wanted)}
                allowDeselect={false}
                onChange={(value) => change({ wanted: Number(value) })}
              />
              <Checkbox
                size="xs"
                label="Read everything again"
                description="Also what was read before and was not changed since"
                checked={kept.readAgain}
                onChange={(event) => change({ readAgain: event.currentTarget.checked })}
              />
            </SheetField>
          )}
          {counts !== undefined && counts.unknown > 0 && <LookForChanges shelf={shelf} />}
          {counts !== undefined && counts.none + counts.few > 0 && (
            <Button size="xs" variant="default" onClick={() => void copyFrom(projectId, shelf.id)}>
              Copy from {shelf.name}
            </Button>
          )}
        </PlanSheet>
      }
    >
      <StageHead title="Check before formatting" lead={`Where verified copies of each file on ${shelf.name} are.`}>
        <Button size="xs" variant="default" onClick={onLeave}>
          Back to shelves
        </Button>
      </StageHead>
      <PlanList<CopiesRow>
        projectId={projectId}
        kind="check-copies"
        state={state}
        label="Files and their copies"
        sort="name"
        columns={COLUMNS}
        rowKey={(row) => row.path}
        noun="file"
        find="file or folder"
        groups={groups}
        empty={<Empty title={`No file on ${shelf.name}`}>There is nothing to check.</Empty>}
      />
    </InStage>
  );
}

/** The Sort stage, with the card as what is copied. */
async function copyFrom(projectId: string, shelfId: string): Promise<void> {
  await remember(projectId, 'sort', { action: 'copy', scope: { of: 'folder', place: { shelfId, path: '' } } });
  goTo(stagePath(projectId, 'sort'));
}

/** Files are not as the last stocktake saw them: it takes another. */
function LookForChanges({ shelf }: { shelf: ShelfView }) {
  const client = useQueryClient();
  const isLooking = isGoing(useStocktake(shelf));
  const look = () => void api.post(`shelves/${shelf.id}/stocktake`).then(() => client.invalidateQueries(), tellError);
  return (
    <Button size="xs" variant="default" loading={isLooking} onClick={look}>
      Look for changes on {shelf.name}
    </Button>
  );
}

const WANTED = [
  { value: '1', label: 'A copy on 1 other drive' },
  { value: '2', label: 'Copies on 2 other drives' },
  { value: '3', label: 'Copies on 3 other drives' },
];

const GROUPS: readonly (readonly [CopiesRow['state'], string])[] = [
  ['none', 'No copy'],
  ['few', 'Too few copies'],
  ['compare', 'Not compared yet'],
  ['unknown', 'Not known yet'],
  ['enough', 'Verified'],
  ['empty', 'Empty'],
];

const OTHERS: Readonly<Record<CopiesRow['others'][number]['state'], string>> = {
  like: 'not compared yet',
  changed: 'changed since it was read',
  unplugged: 'unplugged',
  'on-card': 'a camera card',
};

function stateWords({ state, drives }: CopiesRow): string {
  switch (state) {
    case 'enough':
    case 'few':
      return `on ${plural(drives, 'drive')}`;
    case 'compare':
      return 'not compared yet';
    case 'none':
      return 'no copy';
    case 'unknown':
      return 'not known yet';
    case 'empty':
      return 'empty: 0 bytes';
  }
}

const SIGNS: Readonly<Record<CopiesRow['state'], readonly [string, string | undefined]>> = {
  enough: ['✓', undefined],
  few: ['!', 'rendition-mark'],
  compare: ['…', 'soft'],
  none: ['✕', 'bad'],
  unknown: ['?', 'rendition-mark'],
  empty: ['–', 'soft'],
};

const COLUMNS: readonly Column<CopiesRow>[] = [
  { key: 'name', title: 'File', width: 'minmax(220px, 1.2fr)', cell: ({ path }) => <PathText path={path} /> },
  { key: 'size', title: 'Size', width: '86px', numeric: true, cell: ({ bytes }) => <Bytes value={bytes} /> },
  {
    key: 'state',
    title: 'Verified copies',
    width: '142px',
    unsorted: true,
    cell: (row) => (
      <span className={SIGNS[row.state][1]}>
        {SIGNS[row.state][0]} {stateWords(row)}
      </span>
    ),
  },
  {
    key: 'copies',
    title: 'Copies on',
    width: 'minmax(160px, 1fr)',
    unsorted: true,
    cell: ({ state, shelves, others }) => {
      // What the state says already is not said of each.
      const words = others.map((other) => (other.state === 'like' && state === 'compare' ? other.shelf : `${other.shelf} (${OTHERS[other.state]})`));
      const all = [...shelves, ...words].join(', ');
      return <span title={all}>{all}</span>;
    },
  },
];
