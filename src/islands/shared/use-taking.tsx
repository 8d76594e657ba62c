/** What the chosen timelines use, and the plan that takes it: the same for whatever takes it. */
import type Joi from 'joi';
import { useMemo, type ReactNode } from 'react';
import type { TakenCounts } from '../../core/planning/taking/taken';
import type { UsedMediaSettings } from '../../core/planning/taking/settings';
import type { ProjectWithChoices } from './questions';
import { TakenList } from './TakenList';
import { TakeSettings, useTimelineChoice, type TimelineChoice } from './TakeSettings';
import { usePlan, type PlanState } from './use-plan';
import { useRemembered } from './use-remembered';

interface Taking<Settings> {
  readonly settings: Settings | null;
  readonly change: (change: Partial<Settings>) => void;
  readonly choice: TimelineChoice;
  readonly state: PlanState<TakenCounts>;
  /** Which timelines and how much of their media, over what is taken of each source. */
  readonly lists: ReactNode;
}

export function useTaking<Settings extends UsedMediaSettings>(
  kind: 'pull' | 'crate',
  projectId: string,
  form: Joi.ObjectSchema<Settings>,
  initial: (project: ProjectWithChoices) => Settings,
): Taking<Settings> {
  const [settings, change] = useRemembered<Settings>(projectId, kind, initial);
  const choice = useTimelineChoice(projectId, settings?.timelineIds ?? []);
  const { timelines, ids } = choice;
  const key = JSON.stringify(settings === null ? null : { ...settings, timelineIds: ids });
  const stable = useMemo(() => JSON.parse(key) as Settings | null, [key]);
  const state: PlanState<TakenCounts> = usePlan(kind, projectId, timelines.length === 0 ? null : stable, form, settings);
  const onChange = (chosen: Partial<UsedMediaSettings>) => change(chosen as Partial<Settings>);
  const lists = (
    <>
      {settings && timelines.length > 0 && <TakeSettings settings={settings} timelines={timelines} ids={ids} onChange={onChange} />}
      <TakenList projectId={projectId} kind={kind} choice={choice} state={state} />
    </>
  );
  return { settings, change, choice, state, lists };
}
