import { ActionIcon, Button, MultiSelect, Select, TagsInput, TextInput, Tooltip } from '@mantine/core';
import { CLIP_COLOURS } from '../../core/project/clip';
import { changeFolder, folderOfId, parentOfId, shiftFolder } from '../../core/scheme/edit-scheme';
import type { Rule } from '../../core/scheme/rule';
import { REST, schemePatterns, type Scheme } from '../../core/scheme/scheme';
import { Choice } from '../shared/form/Choice';
import { useBins, useShelves } from '../shared/questions';
import { IconDown, IconUp } from '../shared/icons';
import { Tokens } from '../shared/Tokens';

interface Props {
  readonly projectId: string;
  readonly scheme: Scheme;
  readonly folderId: string;
  readonly onEdit: (scheme: Scheme) => void;
  readonly onAdd: (parent: string | null) => void;
  readonly onRemove: (id: string) => void;
}

const KINDS = ['video', 'audio', 'still', 'sequence', 'other'];

/** Name and rule of one standard folder. Every change shows at once in the tree and on the sheet. */
export function FolderEditor({ projectId, scheme, folderId, onEdit, onAdd, onRemove }: Props) {
  if (folderId === REST) return <RestEditor scheme={scheme} onEdit={onEdit} />;
  const folder = folderOfId(scheme, folderId);
  if (!folder)
    return (
      <div className="panel folder-editor">
        <p className="soft tight">Choose a folder to change its name and its rule, or add one.</p>
        <div className="controls">
          <Button size="xs" variant="default" onClick={() => onAdd(null)}>
            Add a folder
          </Button>
        </div>
      </div>
    );
  const problem = schemePatterns(scheme).problems.get(folderId);
  const change = (part: { name?: string; rule?: Rule | null }) => onEdit(changeFolder(scheme, folderId, part));
  return (
    <div className="panel folder-editor">
      <div className="controls">
        <TextInput
          size="xs"
          className="folder-name"
          aria-label="Name of the folder"
          classNames={{ input: 'mono-input' }}
          value={folder.name}
          maxLength={200}
          error={folder.name.trim() === '' ? 'Type a name.' : problem}
          onChange={(event) => change({ name: event.currentTarget.value })}
        />
        <Tokens onToken={(token) => change({ name: `${folder.name}${token}` })} />
        <Shift label="Before the one above" icon={<IconUp size={14} />} onClick={() => onEdit(shiftFolder(scheme, folderId, -1))} />
        <Shift label="Behind the one below" icon={<IconDown size={14} />} onClick={() => onEdit(shiftFolder(scheme, folderId, 1))} />
        <Button size="xs" variant="default" onClick={() => onAdd(folderId)}>
          Add one in it
        </Button>
        <Button size="xs" variant="default" onClick={() => onAdd(parentOfId(scheme, folderId))}>
          Add one beside it
        </Button>
        <Button size="xs" variant="default" color="red" onClick={() => onRemove(folderId)}>
          Remove
        </Button>
      </div>
      <Choice
        label="What it takes"
        width={260}
        options={[
          ['none', 'Takes only what its folders take'],
          ['rule', 'Takes what fits all of this'],
        ]}
        value={folder.rule === null ? 'none' : 'rule'}
        onChange={(value) => change({ rule: value === 'none' ? null : (folder.rule ?? {}) })}
      />
      {folder.rule !== null && <RuleFields projectId={projectId} rule={folder.rule} onChange={(rule) => change({ rule })} />}
    </div>
  );
}

function Shift({ label, icon, onClick }: { label: string; icon: React.ReactNode; onClick: () => void }) {
  return (
    <Tooltip label={`${label}: the first rule that fits wins`}>
      <ActionIcon variant="default" size={30} aria-label={label} onClick={onClick}>
        {icon}
      </ActionIcon>
    </Tooltip>
  );
}

function RestEditor({ scheme, onEdit }: Pick<Props, 'scheme' | 'onEdit'>) {
  return (
    <div className="panel folder-editor">
      <TextInput
        size="xs"
        label="Name of the folder for what no rule takes"
        classNames={{ input: 'mono-input' }}
        value={scheme.rest}
        maxLength={200}
        error={scheme.rest.trim() === '' ? 'Type a name.' : schemePatterns(scheme).problems.get(REST)}
        onChange={(event) => onEdit({ ...scheme, rest: event.currentTarget.value })}
      />
    </div>
  );
}

/** The fields of a rule; an empty one asks for nothing. */
function RuleFields({ projectId, rule, onChange }: { projectId: string; rule: Rule; onChange: (rule: Rule) => void }) {
  const { data: shelves = [] } = useShelves();
  const { data: bins } = useBins(projectId);
  const set = (part: { [K in keyof Rule]?: Rule[K] | undefined }) =>
    onChange(
      Object.fromEntries(
        Object.entries({ ...rule, ...part }).filter(([, value]) => value !== undefined && !(Array.isArray(value) && value.length === 0)),
      ),
    );
  const many = (label: string, key: 'kinds' | 'bins' | 'colours' | 'shelves', data: readonly (string | { value: string; label: string })[]) => (
    <MultiSelect
      size="xs"
      label={label}
      placeholder={rule[key] ? '' : 'any'}
      data={[...data]}
      searchable
      value={[...(rule[key] ?? [])]}
      onChange={(value) => set({ [key]: value })}
    />
  );
  const words = (label: string, key: 'codecs' | 'cameras' | 'reels' | 'days' | 'names', hint: string) => (
    <TagsInput
      size="xs"
      label={label}
      placeholder={rule[key] ? '' : hint}
      value={[...(rule[key] ?? [])]}
      onChange={(value) => set({ [key]: value })}
      acceptValueOnBlur
    />
  );
  const known = [...new Set([...(bins?.bins.map(({ path }) => path) ?? []), ...(rule.bins ?? [])])].filter((path) => path !== '');
  return (
    <div className="rule-fields">
      {many('Kind', 'kinds', KINDS)}
      {words('Codec', 'codecs', 'prores, pcm')}
      {words('Camera', 'cameras', 'A, B')}
      {words('Reel', 'reels', 'A0*')}
      {words('Day of the shoot', 'days', '2026-05-*')}
      {many('Bin', 'bins', known)}
      {many('Colour of the clip', 'colours', CLIP_COLOURS)}
      <Select
        size="xs"
        label="Used"
        data={[
          { value: '', label: 'or not' },
          { value: 'yes', label: 'by a timeline' },
          { value: 'no', label: 'by no timeline' },
        ]}
        value={rule.used === undefined ? '' : rule.used ? 'yes' : 'no'}
        allowDeselect={false}
        onChange={(value) => set({ used: value === 'yes' ? true : value === 'no' ? false : undefined })}
      />
      {words('Name', 'names', '*music*, *.pdf')}
      {many(
        'Shelf',
        'shelves',
        shelves.map(({ id, name }) => ({ value: id, label: name })),
      )}
    </div>
  );
}
