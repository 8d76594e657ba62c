import { Button, Group } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tell, tellError } from '../shared/notices';

interface Props {
  readonly projectId: string;
  readonly timeline: TimelineSummary;
  readonly onBack: (timelineId: string) => void;
}

/** What can be done about the media of a timeline: links that were matched taken back, media that is offline found. */
export function MediaNote({ projectId, timeline, onBack }: Props) {
  const client = useQueryClient();
  const isMatched = timeline.findings.some(({ code }) => code === 'matched');
  const takeBack = async () => {
    try {
      const { timelineId } = await api.remove(`projects/${projectId}/timelines/${timeline.id}/matches`);
      await client.invalidateQueries();
      onBack(timelineId);
      tell('The links were taken back', 'The clips are offline until they are linked in Relink.');
    } catch (error) {
      tellError(error);
    }
  };
  if (!isMatched && timeline.offlineEvents === 0) return null;
  return (
    <Group gap={8}>
      {timeline.offlineEvents > 0 && (
        <Button component="a" size="compact-xs" variant="default" href={`/p/${projectId}/relink`}>
          Find the media of {plural(timeline.offlineEvents, 'offline event')}
        </Button>
      )}
      {isMatched && (
        <Button size="compact-xs" variant="default" onClick={() => void takeBack()}>
          Take the links back
        </Button>
      )}
    </Group>
  );
}
