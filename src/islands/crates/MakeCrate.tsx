import { Textarea, TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactNode } from 'react';
import { crateForm, type CrateSettings } from '../../core/planning/crate/settings';
import type { TakenCounts } from '../../core/planning/taking/taken';
import { plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { idleWords, initialTakeSettings } from '../shared/TakeSettings';
import { useTaking } from '../shared/use-taking';
import type { ProjectWithChoices } from '../shared/questions';
import { AboutCrate } from './AboutCrate';
import { StageHead } from '../shared/StageHead';
import { SheetField } from '../shared/SheetField';

const initial = (project: ProjectWithChoices): CrateSettings => ({
  ...initialTakeSettings(project),
  destination: null,
  crateName: `${project.name.slice(0, 180).trim()} ${dayjs().format('YYYY-MM-DD')}`,
  note: '',
});

export function MakeCrate({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const { settings, change, choice, state, lists } = useTaking('crate', projectId, crateForm, initial);
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle={idleWords(choice, 'Bring in a timeline first: a crate holds timelines and the media they use.')}
          runLabel={(plan) => (plan.blocked ? 'Make the crate' : `Make the crate of ${plural(sourcesOf(plan.detail), 'source')}`)}
        >
          {settings && (
            <SheetField label="Where to, and its name">
              <PlacePicker label="Destination shelf" value={settings.destination} onChange={(destination) => change({ destination })} />
              <Ask plan={state.plan} code="no-destination" />
              <TextInput
                size="xs"
                aria-label="Name of the crate"
                error={state.invalid.crateName}
                value={settings.crateName}
                maxLength={200}
                onChange={(event) => change({ crateName: event.currentTarget.value })}
              />
              <Ask plan={state.plan} code="no-crate-name" />
              <Textarea
                size="xs"
                aria-label="Note for whoever opens it"
                error={state.invalid.note}
                placeholder="Note for whoever opens it"
                autosize
                minRows={1}
                maxRows={3}
                maxLength={2000}
                value={settings.note}
                onChange={(event) => change({ note: event.currentTarget.value })}
              />
              <AboutCrate settings={settings} invalid={state.invalid} onChange={change} />
            </SheetField>
          )}
        </PlanSheet>
      }
    >
      <StageHead title="Crates" lead="One verified folder: timelines, media, manifest, report.">
        {tabs}
      </StageHead>
      {lists}
    </InStage>
  );
}

function sourcesOf({ trim, frames, whole }: TakenCounts): number {
  return trim + frames + whole;
}
