import { MOST_FRAMES } from '../../core/planning/taking/settings';
import { MultiSelect, NumberInput, SegmentedControl } from '@mantine/core';
import type { UsedMediaSettings } from '../../core/planning/taking/settings';
import { nominalFps } from '../../core/time/rate';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { askedOf, type QuestionState } from './asked';
import { useTimelines, type ProjectWithChoices } from './questions';
import { usePinned } from './use-pinned';

/** Handles default to one second at the project's rate. */
export function initialTakeSettings(project: ProjectWithChoices): UsedMediaSettings {
  const second = nominalFps(project.rate);
  return { timelineIds: [], media: 'parts', headFrames: second, tailFrames: second, joinGapFrames: second, countDisabled: false };
}

export interface TimelineChoice {
  readonly asked: QuestionState;
  readonly timelines: readonly TimelineSummary[];
  readonly ids: readonly string[];
}

/** Timelines that are still there; the first one until the user has chosen. */
export function useTimelineChoice(projectId: string, chosen: readonly string[]): TimelineChoice {
  const query = useTimelines(projectId);
  const { data: timelines = [] } = query;
  const first = usePinned(timelines[0]?.id, (id) => timelines.some((timeline) => timeline.id === id));
  const there = chosen.filter((id) => timelines.some((timeline) => timeline.id === id));
  return { asked: askedOf(query), timelines, ids: there.length > 0 || first === undefined ? there : [first] };
}

/** What the sheet says while there is no timeline to take from: nothing of that while it is not known. */
export function idleWords({ asked }: TimelineChoice, words: string): string | null {
  if (asked.isThere) return words;
  return asked.error ? '' : null;
}

interface Props<T extends UsedMediaSettings> {
  readonly settings: T;
  readonly timelines: readonly TimelineSummary[];
  readonly ids: readonly string[];
  readonly onChange: (change: Partial<UsedMediaSettings>) => void;
}

/** Which timelines, whole files or used parts, how long the handles. Pull and Crates share it. */
export function TakeSettings<T extends UsedMediaSettings>({ settings, timelines, ids, onChange }: Props<T>) {
  const whole = settings.media === 'whole';
  const frames = (label: string, value: number, name: 'headFrames' | 'tailFrames' | 'joinGapFrames', explains: string) => (
    <NumberInput
      size="xs"
      w={name === 'joinGapFrames' ? 152 : 104}
      aria-label={label}
      title={whole ? 'Whole files have all their handles' : explains}
      leftSection={<span className="inside-label">{label}</span>}
      leftSectionWidth={name === 'joinGapFrames' ? 104 : 50}
      min={0}
      max={MOST_FRAMES}
      allowDecimal={false}
      disabled={whole}
      value={value}
      hideControls
      onChange={(next) => typeof next === 'number' && onChange({ [name]: next })}
    />
  );
  return (
    <div className="controls">
      <SegmentedControl
        size="xs"
        aria-label="What is taken"
        data={[
          { value: 'parts', label: 'Used parts' },
          { value: 'whole', label: 'Whole files' },
        ]}
        value={settings.media}
        onChange={(media) => onChange({ media: media as 'parts' | 'whole' })}
      />
      {frames('Head', settings.headFrames, 'headFrames', 'Handle before each used part, in frames')}
      {frames('Tail', settings.tailFrames, 'tailFrames', 'Handle after each used part, in frames')}
      {frames('Join gaps to', settings.joinGapFrames, 'joinGapFrames', 'Parts of one source that lie this close (in frames) become one file')}
      <MultiSelect
        size="xs"
        aria-label="From the timelines"
        placeholder={ids.length === 0 ? 'From which timelines' : ''}
        className="take-timelines"
        data={timelines.map((timeline) => ({ value: timeline.id, label: timeline.name }))}
        value={[...ids]}
        onChange={(timelineIds) => onChange({ timelineIds })}
        hidePickedOptions
        classNames={{ pillsList: 'one-line' }}
      />
    </div>
  );
}
