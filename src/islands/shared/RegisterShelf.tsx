import { Button, Group, SimpleGrid, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { newShelfForm } from '../../core/forms/shelf-forms';
import type { ShelfKind } from '../../core/media/shelf-kind';
import { api, ApiError } from './api';
import { KindSelect } from './KindSelect';
import { useJoiForm } from './form/joi-form';
import { tellError } from './notices';
import { FolderTree } from './tree/FolderTree';
import { CancelButton, Dialog } from './Dialog';

export function RegisterShelf({ opened, onClose, onDone }: { opened: boolean; onClose: () => void; onDone: (shelfId: string) => void }) {
  const client = useQueryClient();
  const form = useJoiForm(newShelfForm, {
    path: '',
    name: undefined as string | undefined,
    kind: undefined as ShelfKind | undefined,
    ownIdentity: false,
  });
  const { path } = form.values;
  const [copy, setCopy] = useState<ApiError | null>(null);
  const choose = (chosen: string) => {
    form.setFieldValue('path', chosen);
    setCopy(null);
  };
  const [busy, setBusy] = useState(false);
  const register = async (ownIdentity = false) => {
    setBusy(true);
    try {
      const shelf = await api.post('shelves', { ...form.values, ownIdentity });
      setCopy(null);
      await api.post(`shelves/${shelf.id}/stocktake`);
      await client.invalidateQueries();
      onDone(shelf.id);
      onClose();
    } catch (failure) {
      if (failure instanceof ApiError && failure.code === 'shelf-copy') setCopy(failure);
      else tellError(failure);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog opened={opened} onClose={onClose} title="Add a drive or folder" size="lg">
      <TextInput
        label="Folder"
        description="Choose below or type its path."
        {...form.getInputProps('path')}
        onChange={(event) => choose(event.currentTarget.value)}
        classNames={{ input: 'mono-input' }}
        mb={10}
      />
      <FolderTree
        label="Folders of this machine"
        queryKey={['machine-folders']}
        address={(at) => `folders?path=${encodeURIComponent(at)}`}
        whole={null}
        path={path}
        onPath={choose}
      />
      <SimpleGrid cols={2} spacing="sm" mt={10}>
        <TextInput
          label="Name"
          placeholder={path.split('/').at(-1) || 'as the folder is called'}
          {...form.getInputProps('name')}
          value={form.values.name ?? ''}
          onChange={(event) => form.setFieldValue('name', event.currentTarget.value.trim() === '' ? undefined : event.currentTarget.value)}
          maxLength={200}
        />
        <KindSelect value={form.values.kind} onChange={(kind) => form.setFieldValue('kind', kind)} unchosen={UNCHOSEN} />
      </SimpleGrid>
      <p className="soft after-fields">
        One small file, .mill-shelf.json, is put at its root so that the shelf is known again elsewhere. Its files are read at once.
      </p>
      {copy && (
        <div className="note warns" role="alert">
          {copy.message} {copy.hint}{' '}
          <Button size="compact-xs" variant="default" onClick={() => void register(true)}>
            Add it as a shelf of its own
          </Button>
        </div>
      )}
      <Group justify="flex-end" mt={14}>
        <CancelButton onClick={onClose} />
        <Button loading={busy} onClick={() => !form.validate().hasErrors && void register()}>
          Add and read it
        </Button>
      </Group>
    </Dialog>
  );
}

const UNCHOSEN = { placeholder: 'by what is on it', follows: 'A folder with the tree of a card at its root is a camera card.' };
