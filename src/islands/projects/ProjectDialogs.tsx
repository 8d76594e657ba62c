import { Button, Group, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ProjectView } from '../../server/api/views';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';

interface Props {
  readonly project: ProjectView;
  readonly onClose: () => void;
}

export function RenameProject({ project, onClose }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState(project.name);
  const rename = () => void api.patch(`projects/${project.id}`, { name }).then(() => (client.invalidateQueries(), onClose()), tellError);
  return (
    <Modal opened onClose={onClose} title={`Rename ${project.name}`}>
      <TextInput
        label="Name"
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
        data-autofocus
        maxLength={200}
        onKeyDown={(event) => event.key === 'Enter' && name.trim() !== '' && rename()}
      />
      <Group justify="flex-end" mt={18}>
        <Button variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button disabled={name.trim() === ''} onClick={rename}>
          Rename
        </Button>
      </Group>
    </Modal>
  );
}

export function RemoveProject({ project, onClose }: Props) {
  const client = useQueryClient();
  const remove = () => void api.remove(`projects/${project.id}`).then(() => (client.invalidateQueries(), onClose()), tellError);
  return (
    <Modal opened onClose={onClose} title={`Remove ${project.name} from the list?`}>
      <p style={{ marginTop: 0 }}>
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
    </Modal>
  );
}
