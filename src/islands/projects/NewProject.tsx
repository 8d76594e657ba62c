import { Button, Checkbox, Group, Select, TextInput } from '@mantine/core';
import { newProjectForm } from '../../core/forms/project-forms';
import { canDropFrame, formatRate, parseRate, rate } from '../../core/time/rate';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api } from '../shared/api';
import { useJoiForm } from '../shared/form/joi-form';
import { tellError } from '../shared/notices';
import { stagePath } from '../shared/stages';
import { RATE_OPTIONS } from './rates';
import { CancelButton, Dialog } from '../shared/Dialog';

/** `fromCard`: it begins with media that is copied in. */
export function NewProject({ opened, onClose, fromCard = false }: { opened: boolean; onClose: () => void; fromCard?: boolean }) {
  const form = useJoiForm(newProjectForm, { name: '', rate: rate(25), dropFrame: false });
  const canDrop = canDropFrame(form.values.rate);
  const { data: schemes = [] } = useQuery({ queryKey: ['schemes'], queryFn: () => api.get('schemes'), enabled: opened });
  const [chosen, setScheme] = useState<string | null>(null);
  const schemeId = chosen ?? (fromCard ? (schemes[0]?.scheme.id ?? '') : '');
  const begin = async (id: string) => {
    // What the sort stage begins with: what is copied in, and where to, is chosen there.
    const value = { schemeId, action: 'copy', makeClips: true, scope: { of: 'folder', place: { shelfId: '', path: '' } } };
    if (schemeId !== '') await api.post(`projects/${id}/remember`, { name: 'sort', value });
    window.location.href = stagePath(id, schemeId === '' ? 'overview' : 'sort');
  };
  const make = (values: typeof form.values) =>
    api
      .post('projects', { ...values, dropFrame: canDrop && values.dropFrame })
      .then(({ id }) => begin(id))
      .catch(tellError);
  return (
    <Dialog opened={opened} onClose={onClose} title="New project">
      <form onSubmit={form.onSubmit(make)} noValidate>
        <TextInput label="Name" data-autofocus required maxLength={200} {...form.getInputProps('name')} />
        <Select
          mt={10}
          label="Frame rate"
          description="The rate timecode is counted at. A timeline may have another one."
          data={RATE_OPTIONS}
          value={formatRate(form.values.rate)}
          onChange={(value) => value && form.setFieldValue('rate', parseRate(value)!)}
          allowDeselect={false}
        />
        <Checkbox
          mt={12}
          label="Drop-frame timecode"
          description={canDrop ? 'Labels keep up with the clock.' : 'Exists only at 29.97, 59.94 and 119.88.'}
          disabled={!canDrop}
          checked={canDrop && form.values.dropFrame}
          onChange={(event) => form.setFieldValue('dropFrame', event.currentTarget.checked)}
        />
        <Select
          mt={12}
          label="Begin with"
          description={
            schemeId === ''
              ? 'Timelines, lists and media are brought in afterwards.'
              : 'Cards and files are copied into these folders and checked; clips get their bins by the same rules.'
          }
          data={[
            { value: '', label: 'An empty project' },
            ...schemes.map(({ scheme }) => ({ value: scheme.id, label: `Standard folders: ${scheme.name}` })),
          ]}
          value={schemeId}
          onChange={(value) => setScheme(value ?? '')}
          allowDeselect={false}
        />
        <Group justify="flex-end" mt={18}>
          <CancelButton onClick={onClose} />
          <Button type="submit" loading={form.submitting}>
            Make the project
          </Button>
        </Group>
      </form>
    </Dialog>
  );
}
