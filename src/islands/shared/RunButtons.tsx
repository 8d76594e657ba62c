import { ActionIcon, Button, Group } from '@mantine/core';
import { useEffect, useState } from 'react';
import { STOCKTAKE } from '../../core/planning/stocktake/stocktake';
import type { RunSummary } from '../../server/runs/views/run';
import { api } from './api';
import { Dialog } from './Dialog';
import { Choice } from './form/Choice';
import { IconPause, IconPlay, IconStop } from './icons';
import { isOver } from './news/live-runs';
import { tellError } from './notices';

/** As long as a hand that just pressed may press again without looking. */
export const QUIET_MS = 1_000;
const LONGEST_QUIET_MS = 4_000;

export function orderRun(id: number, what: 'pause' | 'resume' | 'cancel'): Promise<void> {
  return api.post(`runs/${id}/${what}`).catch(tellError);
}

/** True for a moment after it is first shown, and for as long as the hand goes on pressing: what comes under such a hand does not answer it. */
export function useQuiet(): boolean {
  const [isQuiet, setQuiet] = useState(true);
  useEffect(() => {
    const end = () => {
      window.removeEventListener('pointerdown', again, true);
      setQuiet(false);
    };
    let timer = setTimeout(end, QUIET_MS);
    const began = performance.now();
    const again = () => {
      // Who presses and presses means it.
      if (performance.now() - began > LONGEST_QUIET_MS) return;
      clearTimeout(timer);
      timer = setTimeout(end, QUIET_MS);
    };
    window.addEventListener('pointerdown', again, true);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('pointerdown', again, true);
    };
  }, []);
  return isQuiet;
}

/** Pause and cancel of one run that goes on; of another run, others (`key`). Cancel asks. */
export function RunButtons({ run, small = false }: { run: RunSummary; small?: boolean }) {
  const isQuiet = useQuiet();
  const [isAsking, ask] = useState(false);
  const isPaused = run.state === 'paused';
  const turn = () => isQuiet || void orderRun(run.id, isPaused ? 'resume' : 'pause');
  const cancel = () => isQuiet || ask(true);
  return (
    <>
      {small ? (
        <>
          <ActionIcon
            size={24}
            variant="subtle"
            aria-disabled={isQuiet}
            aria-label={isPaused ? `Resume run ${run.id}` : `Pause run ${run.id}`}
            title={isPaused ? 'Resume the run' : 'Pause the run'}
            onClick={turn}
          >
            {isPaused ? <IconPlay size={13} /> : <IconPause size={13} />}
          </ActionIcon>
          <ActionIcon
            size={24}
            variant="subtle"
            color="gray"
            aria-disabled={isQuiet}
            aria-label={`Cancel run ${run.id}`}
            title="Cancel the run …"
            onClick={cancel}
          >
            <IconStop size={12} />
          </ActionIcon>
        </>
      ) : (
        <Group gap={8}>
          <Button size="xs" variant="default" aria-disabled={isQuiet} onClick={turn}>
            {isPaused ? 'Resume' : 'Pause'}
          </Button>
          <Button size="xs" variant="default" aria-disabled={isQuiet} onClick={cancel}>
            Cancel the run …
          </Button>
          <Choice
            label="When its steps get their turn"
            width={148}
            options={[
              ['first', 'Before other runs'],
              ['normal', 'In its turn'],
              ['last', 'After other runs'],
            ]}
            value={run.priority}
            onChange={(priority) => void api.post(`runs/${run.id}/priority`, { priority }).catch(tellError)}
          />
        </Group>
      )}
      {isAsking && !isOver(run) && <CancelRun run={run} onClose={() => ask(false)} />}
    </>
  );
}

function CancelRun({ run, onClose }: { run: RunSummary; onClose: () => void }) {
  return (
    <Dialog opened onClose={onClose} title={`Cancel run ${run.id}?`}>
      <p className="tight-above">
        <b>{run.title}</b>:{' '}
        {run.kind === STOCKTAKE
          ? 'what was read until now is kept. It can be taken again at any time.'
          : `${run.stepsDone} of ${run.steps} steps are done. Finished files stay, the half-made one is removed. It can be resumed or undone afterwards.`}
      </p>
      <Group justify="flex-end" mt={18}>
        <Button variant="default" onClick={onClose} data-autofocus>
          Let it go on
        </Button>
        <Button color="red" onClick={() => void orderRun(run.id, 'cancel').then(onClose)}>
          Cancel run {run.id}
        </Button>
      </Group>
    </Dialog>
  );
}
