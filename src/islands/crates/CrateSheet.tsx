import { Button, Checkbox, Select, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { checkCrateForm } from '../../core/planning/check-crate/settings';
import type { CrateEdit } from '../../core/forms/crate-form';
import { aboutLines } from '../../core/planning/crate/crate-about';
import type { CrateView } from '../../server/projects/views/crate';
import { api } from '../shared/api';
import { shortDate } from '../shared/dates';
import { plural } from '../shared/figures';
import { tellError } from '../shared/notices';
import { PathText } from '../shared/PathText';
import { PlanSheet } from '../shared/PlanSheet';
import { SheetField } from '../shared/SheetField';
import { stagePath } from '../shared/stages';
import { usePlan } from '../shared/use-plan';

/** One crate as it stands: what it says of itself, how long it is locked, and a check of all its files. */
/** In the address, in the place of another crate. */
export const AS_NOW = 'project';

export function CrateSheet({
  projectId,
  crate,
  others,
  onCompare,
}: {
  projectId: string;
  crate: CrateView;
  others: readonly CrateView[];
  onCompare: (id: string) => void;
}) {
  const canCheck = crate.attached && crate.standing.state !== 'gone';
  const settings = useMemo(() => (canCheck ? { crateId: crate.id } : null), [canCheck, crate.id]);
  const state = usePlan('check-crate', projectId, settings, checkCrateForm);
  return (
    <PlanSheet
      state={state}
      idle={
        crate.attached ? `The crate ${crate.name} is not there any more, so it cannot be checked.` : `Plug in ${crate.shelfName} to check this crate.`
      }
      runLabel={({ lines }) => `Check ${plural(lines.find(({ label }) => label === 'Files to compare')?.files ?? 0, 'file')}`}
    >
      <Facts projectId={projectId} crate={crate} />
      <Lock projectId={projectId} crate={crate} />
      <SheetField label="Compare with">
        <Select
          size="xs"
          aria-label="Compare with"
          placeholder="The project, or another crate"
          data={[{ value: AS_NOW, label: 'The project as it is now' }, ...others.map(({ id, name }) => ({ value: id, label: name }))]}
          value={null}
          onChange={(id) => id !== null && onCompare(id)}
        />
      </SheetField>
    </PlanSheet>
  );
}

function Facts({ projectId, crate }: { projectId: string; crate: CrateView }) {
  const { standing, lacks, trouble, about } = crate;
  return (
    <>
      {trouble !== null && <div className="note warns">No safe copy: {trouble}.</div>}
      {lacks !== null && <div className="note warns">It holds {lacks}.</div>}
      <SheetField label="Stored on">
        <PathText shelf={crate.shelfName} path={standing.place.path} />
      </SheetField>
      <dl aria-label="The crate">
        {standing.isMoved && (
          <>
            <dt>Moved</dt>
            <dd>it was made in {crate.place.path}</dd>
          </>
        )}
        {standing.copies.length > 0 && (
          <>
            <dt>More copies</dt>
            <dd>{plural(standing.copies.length, 'folder')} with the same lists</dd>
          </>
        )}
        <dt>Made</dt>
        <dd>
          {shortDate(crate.madeAt)}
          {crate.runId !== null && (
            <>
              {', '}
              <a className="own-link" href={`${stagePath(projectId, 'runs')}?run=${crate.runId}`}>
                run {crate.runId}
              </a>
            </>
          )}
        </dd>
        <dt>Last seen</dt>
        <dd>{crate.seenAt === null ? 'never' : shortDate(crate.seenAt)}</dd>
        {aboutLines(about).map(([label, value]) => (
          <Line key={label} label={WORDS[label] ?? label} value={value} />
        ))}
      </dl>
    </>
  );
}

const WORDS: Record<string, string> = {
  'Project-Version': 'Version',
  'Source-Organization': 'Sender',
  'Use-Ends-On': 'Use ends on',
  'Follows-Crate': 'Crate before',
};

function Line({ label, value }: { label: string; value: string }) {
  return (
    <>
      <dt>{label}</dt>
      <dd>{value}</dd>
    </>
  );
}

/** What keeps an undo of its run from taking it. */
function Lock({ projectId, crate }: { projectId: string; crate: CrateView }) {
  const client = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: (edit: CrateEdit) => api.patch(`projects/${projectId}/crates/${crate.id}`, edit),
    onError: tellError,
    onSettled: () => client.invalidateQueries({ queryKey: ['crates', projectId] }),
  });
  return (
    <SheetField label="Keep it from an undo">
      <div className="side-by-side">
        <TextInput
          size="xs"
          type="date"
          aria-label="Locked until"
          leftSection={<span className="inside-label">Locked until</span>}
          leftSectionWidth={88}
          w={230}
          value={crate.lockedUntil ?? ''}
          onChange={(event) => mutate({ lockedUntil: event.currentTarget.value || null })}
        />
        {crate.lockedUntil !== null && (
          <Button size="xs" variant="default" onClick={() => mutate({ lockedUntil: null })}>
            Unlock
          </Button>
        )}
      </div>
      <Checkbox
        size="xs"
        label={crate.acceptedAt === null ? 'Handed over' : `Handed over on ${shortDate(crate.acceptedAt)}`}
        checked={crate.acceptedAt !== null}
        onChange={(event) => mutate({ handedOver: event.currentTarget.checked })}
      />
    </SheetField>
  );
}
