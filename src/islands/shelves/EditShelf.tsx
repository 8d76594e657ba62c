import { Button, Group, Select, SimpleGrid, Textarea, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { shelfEditForm } from '../../core/forms/shelf-forms';
import type { Resilience } from '../../core/media/shelf-kind';
import type { ShelfView } from '../../server/stock/views/shelf';
import { api } from '../shared/api';
import { CancelButton, Dialog } from '../shared/Dialog';
import { useJoiForm } from '../shared/form/joi-form';
import { KindSelect } from '../shared/KindSelect';
import { tellError } from '../shared/notices';

/** Name and kind of a shelf, and what people note of it. */
export function EditShelf({ shelf, onClose }: { shelf: ShelfView; onClose: () => void }) {
  const client = useQueryClient();
  const { name, kind, record } = shelf;
  const form = useJoiForm(shelfEditForm, { name, kind, record });
  const { mutate, isPending } = useMutation({
    mutationFn: () => api.patch(`shelves/${shelf.id}`, form.values),
    onSuccess: async () => {
      await client.invalidateQueries();
      onClose();
    },
    onError: tellError,
  });
  return (
    <Dialog opened onClose={onClose} title={`Edit ${name}`} size="lg">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!form.validate().hasErrors) mutate();
        }}
      >
        <SimpleGrid cols={2} spacing="sm" verticalSpacing="sm">
          <TextInput label="Name" {...form.getInputProps('name')} maxLength={200} data-autofocus="" />
          <KindSelect value={form.values.kind} onChange={(next) => form.setFieldValue('kind', next)} />
          <TextInput label="Owner or client" {...form.getInputProps('record.owner')} />
          <TextInput label="Kept at" placeholder="Room, cupboard, person" {...form.getInputProps('record.keptAt')} />
          <TextInput label="Serial number" {...form.getInputProps('record.serial')} />
          <TextInput label="Price" {...form.getInputProps('record.price')} />
          <Select
            label="Disks"
            description="A mirror or an array counts as one copy."
            data={DISKS}
            allowDeselect={false}
            value={form.values.record.resilience}
            onChange={(next) => next !== null && form.setFieldValue('record.resilience', next as Resilience)}
          />
        </SimpleGrid>
        <Textarea label="Notes" mt="sm" autosize minRows={3} maxRows={8} {...form.getInputProps('record.notes')} />
        {shelf.knownBy !== 'marker' && <p className="soft">{UNMARKED[shelf.knownBy]}</p>}
        <Group justify="flex-end" mt={14}>
          <CancelButton onClick={onClose} />
          <Button type="submit" loading={isPending}>
            Save
          </Button>
        </Group>
      </form>
    </Dialog>
  );
}

const UNMARKED = {
  volume: 'Nothing was written to this drive. It is recognised by its volume identifier.',
  content: 'Nothing could be written to this drive. It is recognised by its files, and only at the place where it was added.',
};

const DISKS: readonly { readonly value: Resilience; readonly label: string }[] = [
  { value: 'single', label: 'One disk' },
  { value: 'mirror', label: 'Mirror' },
  { value: 'array', label: 'Array' },
];
