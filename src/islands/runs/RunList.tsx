import { Button, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { RunSummary } from '../../server/runs/views/run';
import { api } from '../shared/api';
import { fullDate, shortDate } from '../shared/dates';
import { Bytes } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { Gone } from '../shared/Gone';
import { IconSearch } from '../shared/icons';
import { useAddressPlace, useAddressWord } from '../shared/use-address';
import { Receipt, runWord } from '../shared/Receipt';
import { RunBar, runSpeed } from '../shared/RunStrip';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { isOver, useLiveRuns } from '../shared/news/live-runs';
import { StepTable } from './StepTable';
import { usePinned } from '../shared/use-pinned';
import { UndoSheet } from './UndoSheet';
import { StageHead } from '../shared/StageHead';
import { Empty } from '../shared/Empty';

const TONES: Record<RunSummary['state'], string> = {
  queued: 'dusk',
  running: 'dusk',
  paused: 'ochre',
  done: 'spruce',
  failed: 'brick',
  cancelled: 'ochre',
};

const RUN_COLUMNS: readonly Column<RunSummary>[] = [
  { key: 'id', title: 'Run', width: '36px', cell: (run) => run.id },
  { key: 'title', title: 'What', width: 'minmax(140px, 1fr)', cell: (run) => <b>{run.title}</b> },
  {
    key: 'state',
    title: 'State',
    width: '136px',
    cell: (run) => (
      <span className={`pill ${TONES[run.state]}`} title={isOver(run) ? undefined : runSpeed(run)}>
        {undoWord(run) ?? (run.waitsFor === null ? runWord(run.state) : runSpeed(run))}
      </span>
    ),
  },
  {
    key: 'progress',
    title: 'Steps',
    width: '130px',
    cell: (run) => (run.state === 'running' || run.state === 'paused' ? <RunBar run={run} width="100%" /> : `${run.stepsDone} of ${run.steps}`),
  },
  { key: 'bytes', title: 'Size', width: '76px', numeric: true, cell: (run) => <Bytes value={isOver(run) ? run.bytesDone : run.bytes} /> },
  { key: 'when', title: 'Begun', width: '126px', cell: (run) => <span title={fullDate(run.createdAt)}>{shortDate(run.createdAt)}</span> },
];

/** Whether another run took it back, or is about to. */
function undoWord(run: RunSummary): string | null {
  if (run.undoneBy !== null) return `undone by run ${run.undoneBy}`;
  return run.undoingBy === null ? null : `undoing: run ${run.undoingBy}`;
}

/** What is running, what failed; resume or undo it; what each did to every file. */
export function RunList({ projectId }: { projectId: string }) {
  const runs = useWindow(['runs', projectId], `runs?project=${projectId}`);
  const live = useLiveRuns();
  const [selected, setSelected] = useAddressPlace('run');
  const [undoing, setUndoing] = useState(false);
  const [found, setFilter] = useAddressWord('find');
  const filter = found ?? '';
  const rows = runs.rows.map((run) => live.find((entry) => entry.id === run?.id) ?? run);
  // Never one that comes later: what the sheet is about is chosen once.
  const first = usePinned(rows[0]?.id, () => runs.total !== 0);
  const wanted = selected ?? (first === undefined ? null : String(first));
  const inSight = rows.find((run) => run !== undefined && String(run.id) === wanted);
  // One that was asked for by its address, or lies out of sight.
  const { data: apart, error: gone } = useQuery({
    queryKey: ['runs', 'one', wanted],
    queryFn: () => api.get(`runs/${wanted}`),
    enabled: wanted !== null && !inSight,
    retry: false,
  });
  // Never another one while it is fetched.
  const chosen = inSight ?? apart;
  const canUndo =
    chosen !== undefined &&
    chosen.undoneBy === null &&
    chosen.undoingBy === null &&
    ['done', 'failed', 'cancelled'].includes(chosen.state) &&
    chosen.undoable;
  const [, setStep] = useAddressWord('step');
  const select = (key: string | null) => {
    setSelected(key);
    setStep(null);
    setUndoing(false);
  };
  return (
    <InStage
      sheet={
        chosen === undefined ? null : undoing ? (
          <UndoSheet key={chosen.id} projectId={projectId} runId={chosen.id} />
        ) : (
          <Receipt key={chosen.id} runId={chosen.id} />
        )
      }
      asks={undoing ? 'undo' : ''}
    >
      <StageHead title="Runs" lead="What is going on, what was done to each file, checked how. Receipts are kept for ever.">
        {chosen && (
          <Button
            size="xs"
            variant="default"
            disabled={!canUndo}
            title={canUndo ? undefined : 'Only finished runs that changed something, and were not undone, can be taken back'}
            // What ends elsewhere meanwhile does not come under the hand.
            onClick={() => (setSelected(String(chosen.id)), setUndoing(!undoing))}
          >
            {undoing ? 'Back to the receipt' : `Undo run ${chosen.id} …`}
          </Button>
        )}
      </StageHead>
      {selected !== null && !chosen && gone && <Gone what="The run" onLeave={() => select(null)} />}
      <div className="run-rows" style={{ height: rows.length === 0 ? 160 : 34 * Math.min(8, rows.length) + 34 }}>
        <VirtualTable
          label="Runs"
          rows={rows}
          pages={runs}
          columns={RUN_COLUMNS}
          rowKey={(run) => String(run.id)}
          selected={chosen ? String(chosen.id) : null}
          onSelect={select}
          asked={runs.asked}
          empty={<Empty title="Nothing has been run yet">Plans that you run show here with their receipts.</Empty>}
        />
      </div>
      {chosen && (
        <>
          <div className="controls">
            <b className="head-14">Files of run {chosen.id}</b>
            <span className="soft small">Space or a double click tells all of a row</span>
            <TextInput
              data-filter=""
              ml="auto"
              size="xs"
              w={230}
              placeholder="Find a file in this receipt"
              aria-label="Find a file in this receipt"
              leftSection={<IconSearch size={14} />}
              value={filter}
              onChange={(event) => setFilter(event.currentTarget.value)}
            />
          </div>
          <StepTable runId={chosen.id} filter={filter} />
        </>
      )}
    </InStage>
  );
}
