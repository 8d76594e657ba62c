import { Button, Group, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { renameForm } from '../../core/forms/project-forms';
import type { ProjectView } from '../../server/projects/views/project';
import { api } from '../shared/api';
import { useJoiForm } from '../shared/form/joi-form';
import { tellError } from '../shared/notices';
import { CancelButton, Dialog } from '../shared/Dialog';

interface Props {
  readonly project: ProjectView;
  readonly onClose: () => void;
}

export function RenameProject({ project, onClose }: Props) {
  const client = useQueryClient();
  const form = useJoiForm(renameForm, { name: project.name });
  const rename = ({ name }: { name: string }) =>
    api.patch(`projects/${project.id}`, { name }).then(() => (client.invalidateQueries(), onClose()), tellError);
  return (
    <Dialog opened onClose={onClose} title={`Rename ${project.name}`}>
      <form onSubmit={form.onSubmit(rename)} noValidate>
        <TextInput label="Name" data-autofocus maxLength={200} {...form.getInputProps('name')} />
        <Group justify="flex-end" mt={18}>
          <CancelButton onClick={onClose} />
          <Button type="submit" loading={form.submitting}>
            Rename
          </Button>
        </Group>
      </form>
    </Dialog>
  );
}

export function RemoveProject({ project, onClose }: Props) {
  const client = useQueryClient();
  const remove = () => void api.remove(`projects/${project.id}`).then(() => (client.invalidateQueries(), onClose()), tellError);
  return (
    <Dialog opened onClose={onClose} title={`Remove ${project.name} from the list?`}>
      <p className="tight-above">
        Its timelines and links are forgotten here. No file on any shelf is touched, and the receipts of its runs stay. This cannot be undone; a crate
        made earlier can be opened again.
      </p>
      <Group justify="flex-end" mt={18}>
        <Button variant="default" onClick={onClose} data-autofocus>
          Keep it
        </Button>
        <Button color="red" onClick={remove}>
          Remove from the list
        </Button>
      </Group>
    </Dialog>
  );
}
