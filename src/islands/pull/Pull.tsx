import { TextInput } from '@mantine/core';
import { pullForm, type PullSettings } from '../../core/planning/pull/settings';
import { portableName } from '../../core/naming/safe-name';
import type { PlanView } from '../../server/kinds/plan-views';
import { plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { idleWords, initialTakeSettings } from '../shared/TakeSettings';
import { useTaking } from '../shared/use-taking';
import type { ProjectWithChoices } from '../shared/questions';
import { StageHead } from '../shared/StageHead';
import { SheetField } from '../shared/SheetField';

const initial = (project: ProjectWithChoices): PullSettings => ({
  ...initialTakeSettings(project),
  destination: null,
  folderName: portableName(`${project.name} pulled`),
});

/** Only the used parts, with handles: how small does it get? */
export function Pull({ projectId }: { projectId: string }) {
  const { settings, change, choice, state, lists } = useTaking('pull', projectId, pullForm, initial);
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle={idleWords(choice, 'Bring in a timeline first: it tells which parts of the media are used.')}
          runLabel={(plan) => (plan.blocked ? 'Run this plan' : `Pull ${plural(filesOf(plan), 'file')}`)}
        >
          {settings && (
            <SheetField label="Where to">
              <PlacePicker label="Destination shelf" value={settings.destination} onChange={(destination) => change({ destination })} />
              <Ask plan={state.plan} code="no-destination" />
              <TextInput
                size="xs"
                aria-label="Name of the new folder"
                error={state.invalid.folderName}
                value={settings.folderName}
                onChange={(event) => change({ folderName: event.currentTarget.value })}
                classNames={{ input: 'mono-input' }}
              />
              <Ask plan={state.plan} code="no-folder-name" />
            </SheetField>
          )}
        </PlanSheet>
      }
    >
      <StageHead title="Pull the used media" lead="What the chosen timelines use, with handles, laid over each source's full length." />
      {lists}
    </InStage>
  );
}

function filesOf({ stepCounts }: PlanView): number {
  return Object.entries(stepCounts).reduce((sum, [action, count]) => sum + (action === 'link' ? 0 : count), 0);
}
