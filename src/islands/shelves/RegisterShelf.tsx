import { Button, Group, Modal, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { FolderView } from '../../server/api/views';
import { api, ApiError } from '../shared/api';
import { tellError } from '../shared/notices';
import { FolderList } from '../shared/PlacePicker';

export function RegisterShelf({ opened, onClose, onDone }: { opened: boolean; onClose: () => void; onDone: (shelfId: string) => void }) {
  const client = useQueryClient();
  const [path, setPath] = useState('');
  const [name, setName] = useState('');
  const [copy, setCopy] = useState<ApiError | null>(null);
  const choose = (chosen: string) => {
    setPath(chosen);
    setCopy(null);
  };
  const { data, error } = useQuery({
    queryKey: ['machine-folders', path],
    queryFn: () => api.get<FolderView>(`folders?path=${encodeURIComponent(path)}`),
    enabled: opened,
  });
  const register = async (ownIdentity = false) => {
    try {
      const shelf = await api.post<{ id: string }>('shelves', { path, ownIdentity, ...(name.trim() ? { name } : {}) });
      setCopy(null);
      await api.post(`shelves/${shelf.id}/stocktake`);
      await client.invalidateQueries();
      onDone(shelf.id);
      onClose();
    } catch (failure) {
      if (failure instanceof ApiError && failure.code === 'shelf-copy') setCopy(failure);
      else tellError(failure);
    }
  };
  return (
    <Modal opened={opened} onClose={onClose} title="Register a shelf" size="lg">
      <TextInput
        label="Folder"
        description="Choose below or type its path."
        value={path}
        onChange={(event) => choose(event.currentTarget.value)}
        styles={{ input: { fontFamily: 'var(--mono)' } }}
        mb={10}
      />
      <FolderList view={data} error={error} onEnter={choose} />
      <TextInput
        mt={10}
        label="Name"
        placeholder={path.split('/').at(-1) || 'as the folder is called'}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
        maxLength={200}
      />
      <p className="soft" style={{ margin: '10px 0 0', fontSize: 13 }}>
        One small file, .mill-shelf.json, is put at its root so that the shelf is known again elsewhere. Stock is taken at once.
      </p>
      {copy && (
        <div className="note warns" role="alert">
          {copy.message} {copy.hint}{' '}
          <Button size="compact-xs" variant="default" onClick={() => void register(true)}>
            Register it as a shelf of its own
          </Button>
        </div>
      )}
      <Group justify="flex-end" mt={14}>
        <Button variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button disabled={path === ''} onClick={() => void register()}>
          Register and take stock
        </Button>
      </Group>
    </Modal>
  );
}
