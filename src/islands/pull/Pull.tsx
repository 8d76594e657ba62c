import { TextInput } from '@mantine/core';
import { useMemo } from 'react';
import type { PullSettings, TakenDetail } from '../../core/planning/pull';
import { portableName } from '../../core/naming/safe-name';
import type { PlanView } from '../../server/projects/plan-views';
import { plural } from '../shared/figures';
import { Frame } from '../shared/Frame';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { TakenList } from '../shared/TakenList';
import { initialTakeSettings, TakeSettings, useTimelineChoice } from '../shared/TakeSettings';
import { usePlan } from '../shared/use-plan';
import { useRemembered, type ProjectWithChoices } from '../shared/use-remembered';

const initial = (project: ProjectWithChoices): PullSettings => ({
  ...initialTakeSettings(project),
  destination: null,
  folderName: portableName(`${project.name} pulled`),
});

/** Only the used parts, with handles: how small does it get? */
export function Pull({ projectId }: { projectId: string }) {
  const [settings, change] = useRemembered<PullSettings>(projectId, 'pull', initial);
  const { timelines, ids } = useTimelineChoice(projectId, settings?.timelineIds ?? []);
  const asked = useMemo(() => (settings === null ? null : { ...settings, timelineIds: ids }), [settings, ids]);
  const key = JSON.stringify(asked);
  const stable = useMemo(() => JSON.parse(key) as PullSettings | null, [key]);
  const state = usePlan<TakenDetail>('pull', projectId, timelines.length === 0 ? null : stable);
  return (
    <Frame
      projectId={projectId}
      stage="pull"
      sheet={
        <PlanSheet
          state={state}
          idle="Bring in a timeline first: it tells which parts of the media are used."
          runLabel={(plan) => (plan.blocked ? 'Run this plan' : `Pull ${plural(filesOf(plan), 'file')}`)}
        >
          {settings && (
            <div style={{ display: 'flex', flexDirection: 'column', gap: 6 }}>
              <span className="soft" style={{ fontSize: 12.5 }}>
                Where to
              </span>
              <PlacePicker label="Destination shelf" value={settings.destination} onChange={(destination) => change({ destination })} />
              <Ask plan={state.plan} code="no-destination" />
              <TextInput
                size="xs"
                aria-label="Name of the new folder"
                value={settings.folderName}
                onChange={(event) => change({ folderName: event.currentTarget.value })}
                styles={{ input: { fontFamily: 'var(--mono)' } }}
              />
              <Ask plan={state.plan} code="no-folder-name" />
            </div>
          )}
        </PlanSheet>
      }
    >
      <div>
        <h1>Pull the used media</h1>
        <p className="lead">What the chosen timelines use, with handles, laid over each source's full length.</p>
      </div>
      {settings && timelines.length > 0 && <TakeSettings settings={settings} timelines={timelines} ids={ids} onChange={change} />}
      <TakenList projectId={projectId} hasTimelines={timelines.length > 0} state={state} />
    </Frame>
  );
}

function filesOf({ stepCounts }: PlanView): number {
  return Object.entries(stepCounts).reduce((sum, [action, count]) => sum + (action === 'link' ? 0 : count), 0);
}
