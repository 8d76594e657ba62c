import { ActionIcon, Button, FileButton, Select, TextInput, Tooltip } from '@mantine/core';
import { useRef, useState } from 'react';
import { Dialog } from '../shared/Dialog';
import { IconDots, IconRedo, IconUndo } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { useUndoKeys } from '../shared/use-undo-keys';
import { SchemeConflict } from './SchemeConflict';
import { stepWords } from './use-scheme';
import type { SortOf } from './use-sort';

interface Props {
  readonly sort: SortOf;
  readonly isEditing: boolean;
  readonly onEdit: (editing: boolean) => void;
}

/** Which scheme, and what can be done with it. */
export function SchemeHead({ sort, isEditing, onEdit }: Props) {
  const { scheme, schemes, isOwn, isChanged, choices, undo } = sort;
  const [leaving, setLeaving] = useState(false);
  const take = useRef<(() => void) | null>(null);
  const reset = useRef<() => void>(null);
  useUndoKeys((way) => void (way === 'undo' ? undo.back() : undo.again()));
  if (!scheme || !choices) return null;
  const names = schemes.map(({ scheme: own }) => ({
    value: own.id,
    label: own.id in choices.drafts ? `${choices.drafts[own.id]!.scheme.name} · not saved` : own.name,
  }));
  if (!names.some(({ value }) => value === scheme.id)) names.push({ value: scheme.id, label: `${scheme.name} · not saved` });
  return (
    <>
      <div className="scheme-head">
        {isEditing && isOwn ? (
          <TextInput
            size="xs"
            flex="1 1 100%"
            aria-label="Name of the scheme"
            value={scheme.name}
            maxLength={200}
            error={scheme.name.trim() === '' ? 'Type a name.' : undefined}
            onChange={(event) => sort.edit({ ...scheme, name: event.currentTarget.value })}
          />
        ) : (
          <Select
            size="xs"
            flex={1}
            aria-label="Scheme"
            data={names}
            value={scheme.id}
            allowDeselect={false}
            onChange={(schemeId) => schemeId && sort.choose(schemeId)}
          />
        )}
        {isChanged && (
          <Button size="xs" variant="default" loading={sort.isSaving} onClick={() => void sort.save()}>
            Save
          </Button>
        )}
        {(undo.last ?? undo.next) && (
          <>
            <Tooltip label={undo.last ? `Take back ${stepWords(undo.last)}` : 'Nothing to take back'}>
              <ActionIcon variant="default" size={30} aria-label="Undo" disabled={!undo.last} onClick={() => void undo.back()}>
                <IconUndo size={16} />
              </ActionIcon>
            </Tooltip>
            <Tooltip label={undo.next ? `Do again ${stepWords(undo.next)}` : 'Nothing to do again'}>
              <ActionIcon variant="default" size={30} aria-label="Redo" disabled={!undo.next} onClick={() => void undo.again()}>
                <IconRedo size={16} />
              </ActionIcon>
            </Tooltip>
          </>
        )}
        <FileButton
          accept="application/json,.json"
          resetRef={reset}
          onChange={(file) => {
            // The same file may be chosen again, mended.
            reset.current?.();
            if (file) void sort.bring(file);
          }}
        >
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
                    {isEditing
                      ? 'Done changing it'
                      : isOwn
                        ? 'Change its folders and rules'
                        : 'Comes with the application: duplicate it to change it'}
                  </Menu.Item>
                  {isChanged && sort.saved && <Menu.Item onClick={sort.discard}>Leave it as it was saved</Menu.Item>}
                  <Menu.Item onClick={() => void sort.duplicate().then((done) => done && onEdit(true))}>Duplicate</Menu.Item>
                  {sort.saved && (
                    <Menu.Item component="a" href={`/api/schemes/${scheme.id}/file`} download>
                      Save as a file
                    </Menu.Item>
                  )}
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
            <Button color="red" onClick={() => void sort.remove().then((done) => done && (setLeaving(false), onEdit(false)))}>
              Remove the scheme
            </Button>
          </div>
        </Dialog>
      </div>
      {sort.isBehind && (
        <div className="note warns" role="status">
          {sort.saved
            ? 'This scheme was saved elsewhere since you began to change it.'
            : 'This scheme was removed elsewhere; your changes are still here.'}{' '}
          <button type="button" className="linkish" onClick={sort.conflict.open}>
            {sort.saved ? 'Look at both' : 'Decide'}
          </button>
        </div>
      )}
      <SchemeConflict sort={sort} />
    </>
  );
}
