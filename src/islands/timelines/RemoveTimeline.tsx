import { Button, Group } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import type { TimelineSummary } from '../../server/projects/views/timeline';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { Dialog } from '../shared/Dialog';

interface Props {
  readonly projectId: string;
  readonly timeline: TimelineSummary;
  readonly onClose: () => void;
  readonly onGone: () => void;
}

export function RemoveTimeline({ projectId, timeline, onClose, onGone }: Props) {
  const client = useQueryClient();
  const remove = () =>
    void api
      .remove(`projects/${projectId}/timelines/${timeline.id}`)
      .then(() => client.invalidateQueries())
      .then(onGone, tellError);
  return (
    <Dialog opened onClose={onClose} title={`Take ${timeline.name} out of the project?`}>
      <p className="tight-above">
        Clips that came with it, that no other timeline uses and nobody annotated, go with it. No file is touched. It cannot be taken back from here;
        bring in {timeline.sourceName} again to have it back.
      </p>
      <Group justify="flex-end" mt={18}>
        <Button variant="default" onClick={onClose} data-autofocus>
          Keep it
        </Button>
        <Button color="red" onClick={remove}>
          Take it out
        </Button>
      </Group>
    </Dialog>
  );
}
