import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { undoForm } from '../../core/planning/undo/settings';
import { plural } from '../shared/figures';
import { PlanSheet } from '../shared/PlanSheet';
import { usePlan } from '../shared/use-plan';
import { oneOrMany } from '../../core/words/figures';

/** What the undo of one run would remove and put back. Of one run alone: another one has a sheet of its own (`key`). */
export function UndoSheet({ projectId, runId }: { projectId: string; runId: number }) {
  const [confirmed, setConfirmed] = useState(false);
  const settings = useMemo(() => ({ runId, confirmed }), [runId, confirmed]);
  const undo = usePlan('undo', projectId, settings, undoForm, settings, { isOnce: true });
  const affectedClips = (undo.plan?.detail.affected ?? []).reduce((sum, entry) => sum + entry.clips, 0);
  const { last = 0, houses = 0 } = undo.plan?.detail ?? {};
  return (
    <PlanSheet
      state={undo}
      idle=""
      runLabel={({ detail }) => (detail.files.length > 0 ? `Undo run ${runId}: remove ${plural(detail.files.length, 'file')}` : `Undo run ${runId}`)}
    >
      {affectedClips + last + houses > 0 && (
        <Checkbox
          label={confirmWords(affectedClips, last, houses)}
          checked={confirmed}
          onChange={(event) => setConfirmed(event.currentTarget.checked)}
        />
      )}
    </PlanSheet>
  );
}

function confirmWords(clips: number, last: number, houses: number): string {
  const reads = clips > 0 ? `${plural(clips, 'clip reads', 'clips read')} these files. ` : '';
  if (clips + last === 0) return `${oneOrMany(houses, 'Another Mill Shelf reads', 'Others read')} these files. Remove them all the same`;
  return last > 0 ? `${reads}Remove the last copy of ${plural(last, 'file')} too` : `${reads}Remove them all the same`;
}
