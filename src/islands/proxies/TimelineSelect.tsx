import { Select } from '@mantine/core';
import type { TimelineSummary } from '../../server/projects/views/timeline';

interface Props {
  readonly timelines: readonly TimelineSummary[];
  readonly value: string | null;
  readonly onChange: (timelineId: string | null) => void;
}

/** The one timeline that a view is about. */
export function TimelineSelect({ timelines, value, onChange }: Props) {
  return (
    <Select
      size="xs"
      w={220}
      aria-label="Timeline"
      placeholder="No timeline"
      searchable
      data={timelines.map(({ id, name }) => ({ value: id, label: name }))}
      value={value}
      allowDeselect={false}
      onChange={onChange}
    />
  );
}
