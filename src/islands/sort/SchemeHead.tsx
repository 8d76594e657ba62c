import { ActionIcon, Button, FileButton, Select, TextInput } from '@mantine/core';
import { useRef } from 'react';
import { Dialog } from '../shared/Dialog';
import { IconDots } from '../shared/icons';
import { Menu } from '../shared/Menu';
import type { SortOf } from './use-sort';
import { useState } from 'react';

interface Props {
  readonly sort: SortOf;
  readonly isEditing: boolean;
  readonly onEdit: (editing: boolean) => void;
}

/** Which scheme, and what can be done with it. */
export function SchemeHead({ sort, isEditing, onEdit }: Props) {
  const { scheme, schemes, isOwn, isChanged, choices, change } = sort;
  const [leaving, setLeaving] = useState(false);
  const take = useRef<(() => void) | null>(null);
  if (!scheme || !choices) return null;
  return (
    <div className="scheme-head">
      {isEditing && isOwn ? (
        <TextInput
          size="xs"
          flex={1}
          aria-label="Name of the scheme"
          value={scheme.name}
          maxLength={200}
          onChange={(event) => sort.edit({ ...scheme, name: event.currentTarget.value })}
        />
      ) : (
        <Select
          size="xs"
          flex={1}
          aria-label="Scheme"
          data={schemes.map(({ scheme: own }) => ({ value: own.id, label: own.name }))}
          value={scheme.id}
          allowDeselect={false}
          onChange={(schemeId) => schemeId && change({ schemeId, draft: null })}
        />
      )}
      {isChanged && (
        <Button size="xs" variant="default" onClick={() => void sort.save()}>
          Save
        </Button>
      )}
      <FileButton accept="application/json,.json" onChange={(file) => file && void sort.bring(file)}>
        {(props) => {
          take.current = props.onClick;
          return (
            <Menu position="bottom-end">
              <Menu.Target>
                <ActionIcon variant="default" size={30} aria-label="More for this scheme">
                  <IconDots size={16} />
                </ActionIcon>
              </Menu.Target>
              <Menu.Dropdown>
                <Menu.Item disabled={!isOwn} onClick={() => onEdit(!isEditing)}>
                  {isEditing ? 'Done changing it' : isOwn ? 'Change its folders and rules' : 'Comes with the application: duplicate it to change it'}
                </Menu.Item>
                {isChanged && <Menu.Item onClick={sort.discard}>Leave it as it was saved</Menu.Item>}
                <Menu.Item onClick={() => void sort.duplicate().then(() => onEdit(true))}>Duplicate</Menu.Item>
                <Menu.Item component="a" href={`/api/schemes/${scheme.id}/file`} download>
                  Save as a file
                </Menu.Item>
                <Menu.Item onClick={() => take.current?.()}>Bring in from a file</Menu.Item>
                <Menu.Item disabled={!isOwn} onClick={() => setLeaving(true)}>
                  Remove
                </Menu.Item>
              </Menu.Dropdown>
            </Menu>
          );
        }}
      </FileButton>
      <Dialog opened={leaving} onClose={() => setLeaving(false)} title={`Remove "${scheme.name}"?`}>
        <p className="tight-above">The scheme goes off the list. Folders and files on the shelves stay as they are.</p>
        <div className="controls">
          <span className="push" />
          <Button variant="default" onClick={() => setLeaving(false)}>
            Keep it
          </Button>
          <Button color="red" onClick={() => void sort.remove().then(() => (setLeaving(false), onEdit(false)))}>
            Remove the scheme
          </Button>
        </div>
      </Dialog>
    </div>
  );
}
