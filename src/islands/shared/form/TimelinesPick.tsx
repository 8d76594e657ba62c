import { MultiSelect } from '@mantine/core';
import { useTimelines } from '../questions';

interface Props {
  readonly projectId: string;
  readonly value: readonly string[];
  readonly onChange: (timelineIds: string[]) => void;
}

/** Some timelines of the project, in one line. */
export function TimelinesPick({ projectId, value, onChange }: Props) {
  const { data: timelines = [] } = useTimelines(projectId);
  return (
    <MultiSelect
      size="xs"
      className="take-timelines"
      aria-label="Which timelines"
      data={timelines.map(({ id, name }) => ({ value: id, label: name }))}
      value={[...value]}
      onChange={onChange}
      hidePickedOptions
      classNames={{ pillsList: 'one-line' }}
    />
  );
}
