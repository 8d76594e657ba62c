import { useDebouncedValue } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import type { StepView } from '../../server/actions/step-views';
import { Bytes } from '../shared/figures';
import { PathText } from '../shared/PathText';
import { useRun } from '../shared/Receipt';
import { useAddressWord } from '../shared/use-address';
import { useShelfNames, type ShelfNames } from '../shared/use-shelf-names';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { StepFacts } from './StepFacts';
import { Empty } from '../shared/Empty';
import { Dialog } from '../shared/Dialog';

const STEP_WORDS: Record<StepView['state'], [string, string]> = {
  waiting: ['waits', 'var(--soft)'],
  doing: ['in hand', 'var(--dusk)'],
  publishing: ['in hand', 'var(--dusk)'],
  done: ['done', 'var(--spruce)'],
  failed: ['failed', 'var(--brick)'],
  skipped: ['left out', 'var(--ochre)'],
  cancelled: ['cancelled', 'var(--ochre)'],
};

/** A cut that became a copy, or a file that was to go and stayed, is not simply done. */
function StepWord({ row }: { row: StepView }) {
  const other = row.outcome?.whole ? 'whole' : row.outcome?.left ? 'stays' : null;
  const [word, colour] = other === null ? STEP_WORDS[row.state] : [other, 'var(--ochre)'];
  return <b style={{ color: colour }}>{word}</b>;
}

function stepColumns(names: ShelfNames): Column<StepView>[] {
  return [
    { key: 'action', title: 'Action', width: '56px', cell: (row) => row.step.action },
    {
      key: 'to',
      title: 'File',
      width: 'minmax(160px, 1.5fr)',
      cell: (row) => {
        const place = row.step.to ?? row.step.from;
        return place ? <PathText shelf={names(place.shelfId)} path={place.path} /> : <span className="soft">{row.step.reason}</span>;
      },
    },
    {
      key: 'bytes',
      title: 'Size',
      width: '70px',
      numeric: true,
      cell: (row) => (row.outcome && row.step.action !== 'link' && !row.outcome.left ? <Bytes value={row.outcome.bytes} /> : '–'),
    },
    {
      key: 'sum',
      title: 'SHA-256',
      width: '100px',
      cell: (row) => (
        <span className="mono" title={row.outcome?.sha256}>
          {row.outcome?.sha256
            ? `${row.outcome.sha256.slice(0, 6)}…${row.outcome.sha256.slice(-4)}`
            : row.outcome?.files
              ? `${row.fileCount} files`
              : '–'}
        </span>
      ),
    },
    {
      key: 'state',
      title: 'Result',
      width: 'minmax(150px, 1.2fr)',
      cell: (row) => (
        <span title={row.message ?? row.outcome?.checked}>
          <StepWord row={row} /> <span className="soft">{row.message ?? row.outcome?.checked}</span>
        </span>
      ),
    },
  ];
}

/** What became of each file; a row opens to its whole text. */
export function StepTable({ runId, filter }: { runId: number; filter: string }) {
  const { run } = useRun(runId);
  const names = useShelfNames();
  const [selected, setSelected] = useAddressWord('step');
  const [shown, setShown] = useState<StepView | null>(null);
  const [asked] = useDebouncedValue(filter, 150);
  const columns = useMemo(() => stepColumns(names), [names]);
  // While it goes on the rows in sight are asked for again with every step.
  const steps = useWindow(['runs', 'steps', run?.state, run?.stepsDone], `runs/${runId}/steps?${new URLSearchParams({ filter: asked })}`);
  return (
    <>
      <VirtualTable
        label="Files of the run"
        rows={steps.rows}
        pages={steps}
        columns={columns}
        rowKey={(row) => String(row.ordinal)}
        selected={selected}
        onSelect={setSelected}
        onOpen={setShown}
        asked={steps.asked}
        empty={<Empty title={asked.trim() === '' ? 'This run has no steps' : 'No file of this run is called that'} />}
      />
      <Dialog opened={shown !== null} onClose={() => setShown(null)} title={shown ? `Step ${shown.ordinal + 1} of run ${runId}` : ''} size="lg">
        {shown && <StepFacts row={shown} names={names} word={<StepWord row={shown} />} />}
      </Dialog>
    </>
  );
}
