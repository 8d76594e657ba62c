import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { undoForm } from '../../core/planning/undo/settings';
import type { UndoDetail } from '../../core/planning/undo/undo';
import { plural } from '../shared/figures';
import { PlanSheet } from '../shared/PlanSheet';
import { usePlan } from '../shared/use-plan';

/** What the undo of one run would remove and put back. Of one run alone: another one has a sheet of its own (`key`). */
export function UndoSheet({ projectId, runId }: { projectId: string; runId: number }) {
  const [confirmed, setConfirmed] = useState(false);
  const settings = useMemo(() => ({ runId, confirmed }), [runId, confirmed]);
  const undo = usePlan<UndoDetail>('undo', projectId, settings, undoForm);
  const affectedClips = (undo.plan?.detail.affected ?? []).reduce((sum, entry) => sum + entry.clips, 0);
  return (
    <PlanSheet
      state={undo}
      idle=""
      runLabel={({ detail }) => (detail.files.length > 0 ? `Undo run ${runId}: remove ${plural(detail.files.length, 'file')}` : `Undo run ${runId}`)}
    >
      {affectedClips > 0 && (
        <Checkbox
          label={`${plural(affectedClips, 'clip')} read these files. Remove them all the same`}
          checked={confirmed}
          onChange={(event) => setConfirmed(event.currentTarget.checked)}
        />
      )}
    </PlanSheet>
  );
}
