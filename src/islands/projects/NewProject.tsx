import { Button, Checkbox, Group, Modal, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { canDropFrame, parseRate } from '../../core/time/rate';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { stagePath } from '../shared/stages';
import { RATE_OPTIONS } from './rates';

export function NewProject({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  const [name, setName] = useState('');
  const [rate, setRate] = useState('25/1');
  const [dropFrame, setDropFrame] = useState(false);
  const parsed = parseRate(rate)!;
  const canDrop = canDropFrame(parsed);
  const make = () => {
    api
      .post<{ id: string }>('projects', { name, rate: parsed, dropFrame: canDrop && dropFrame })
      .then(({ id }) => (window.location.href = stagePath(id, 'overview')), tellError);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New project">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make();
        }}
      >
        <TextInput label="Name" value={name} onChange={(event) => setName(event.currentTarget.value)} data-autofocus required maxLength={200} />
        <Select
          mt={10}
          label="Frame rate"
          description="The rate timecode is counted at. A timeline may have another one."
          data={RATE_OPTIONS}
          value={rate}
          onChange={(value) => value && setRate(value)}
          allowDeselect={false}
        />
        <Checkbox
          mt={12}
          label="Drop-frame timecode"
          description={canDrop ? 'Labels keep up with the clock.' : 'Exists only at 29.97, 59.94 and 119.88.'}
          disabled={!canDrop}
          checked={canDrop && dropFrame}
          onChange={(event) => setDropFrame(event.currentTarget.checked)}
        />
        <Group justify="flex-end" mt={18}>
          <Button variant="default" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" disabled={name.trim() === ''}>
            Make the project
          </Button>
        </Group>
      </form>
    </Modal>
  );
}
