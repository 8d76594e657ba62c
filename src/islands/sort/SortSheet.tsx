import { Button, Checkbox, NumberInput, Select, TextInput } from '@mantine/core';
import { readPattern } from '../../core/scheme/pattern';
import { rootFolder } from '../../core/planning/sort/target-folder';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { SheetField } from '../shared/SheetField';
import { tellError } from '../shared/notices';
import type { SortChoices, SortOf } from './use-sort';
import { Tokens } from './FolderEditor';
import { saveText } from './save-text';

/** Where to, under which names, and what else: on the paper. */
export function SortSheet({ projectId, projectName, sort }: { projectId: string; projectName: string; sort: SortOf }) {
  const { choices, change, settings, state } = sort;
  if (!choices || !settings) return null;
  const { names } = choices;
  const root = rootFolder({ project: { id: projectId, name: projectName } }, settings);
  const pattern = names.from === 'pattern' ? readPattern(names.pattern) : null;
  return (
    <>
      <SheetField label="Where to">
        <PlacePicker label="Destination shelf" value={choices.destination} onChange={(destination) => change({ destination })} />
        <Ask plan={state.plan} code="no-destination" />
        <TextInput
          size="xs"
          aria-label="The project's own folder"
          title={`Everything goes into "${root}", so that projects never mix`}
          error={state.invalid.rootName}
          value={choices.rootName}
          onChange={(event) => change({ rootName: event.currentTarget.value })}
          classNames={{ input: 'mono-input' }}
        />
        <Ask plan={state.plan} code="no-folder-name" />
      </SheetField>
      <SheetField label="Names">
        <Select
          size="xs"
          aria-label="Names"
          data={[
            { value: 'original', label: 'Keep the name it has' },
            { value: 'clip', label: 'Take the name of the clip' },
            { value: 'pattern', label: 'After a pattern' },
          ]}
          value={names.from}
          allowDeselect={false}
          onChange={(from) => change({ names: { ...names, from: from as typeof names.from } })}
        />
        {names.from === 'pattern' && (
          <div className="controls">
            <TextInput
              size="xs"
              flex={1}
              aria-label="Pattern of the names"
              classNames={{ input: 'mono-input' }}
              value={names.pattern}
              error={pattern && 'problem' in pattern ? pattern.problem : undefined}
              onChange={(event) => change({ names: { ...names, pattern: event.currentTarget.value } })}
            />
            <Tokens onToken={(token) => change({ names: { ...names, pattern: `${names.pattern}${token}` } })} />
          </div>
        )}
        <Ask plan={state.plan} code="name-pattern" />
      </SheetField>
      <details className="more-choices">
        <summary>{moreWords(choices)}</summary>
        <div className="sheet-field">
          <Select
            size="xs"
            aria-label="How portable names are made"
            data={[
              { value: 'everywhere', label: 'Windows, macOS and Linux take them' },
              { value: 'plain', label: 'Plain letters without blanks' },
              { value: 'here', label: 'As they are, where this system can' },
            ]}
            value={names.level}
            allowDeselect={false}
            onChange={(level) => change({ names: { ...names, level: level as typeof names.level } })}
          />
          <Select
            size="xs"
            aria-label="What sets files of one name apart"
            data={[
              { value: 'number', label: 'One name twice: a number' },
              { value: 'reel', label: 'One name twice: the reel' },
              { value: 'day', label: 'One name twice: the day' },
            ]}
            value={choices.clashes}
            allowDeselect={false}
            onChange={(clashes) => change({ clashes: clashes as typeof choices.clashes })}
          />
        </div>
        <div className="sheet-ticks">
          <Checkbox
            size="xs"
            label="Make empty folders of the standard too"
            checked={choices.emptyFolders}
            onChange={(event) => change({ emptyFolders: event.currentTarget.checked })}
          />
          <Checkbox
            size="xs"
            label="Remove folders that become empty"
            disabled={choices.action === 'copy'}
            title={choices.action === 'copy' ? 'Copying leaves every folder as it is' : undefined}
            checked={choices.removeEmptied}
            onChange={(event) => change({ removeEmptied: event.currentTarget.checked })}
          />
          <Checkbox
            size="xs"
            label="Of proven equal files, use one"
            title="Only of files that a run has read whole: their checksums tell"
            checked={choices.equalAsOne}
            onChange={(event) => change({ equalAsOne: event.currentTarget.checked })}
          />
          <div className="controls">
            <Checkbox
              size="xs"
              label="New folder after"
              checked={choices.perFolder !== null}
              onChange={(event) => change({ perFolder: event.currentTarget.checked ? 500 : null })}
            />
            <NumberInput
              size="xs"
              w={92}
              aria-label="Files a folder holds"
              min={1}
              max={1_000_000}
              allowDecimal={false}
              hideControls
              disabled={choices.perFolder === null}
              suffix=" files"
              value={choices.perFolder ?? 500}
              onChange={(value) => typeof value === 'number' && change({ perFolder: value })}
            />
          </div>
        </div>
      </details>
      <div className="controls">
        {(['html', 'csv'] as const).map((as) => (
          <Button
            key={as}
            size="xs"
            variant="default"
            flex={1}
            disabled={!state.plan}
            title="Saved without running it"
            onClick={() => void saveText('plans/keep', { projectId, kind: 'sort', settings, as }, `Sort plan.${as}`).catch(tellError)}
          >
            {as === 'html' ? 'Keep as a page' : 'Keep as a table'}
          </Button>
        ))}
      </div>
    </>
  );
}

/** What the further choices are, in a line. */
function moreWords({ names, clashes, perFolder, emptyFolders, removeEmptied, action, equalAsOne }: SortChoices): string {
  const words = [
    { everywhere: 'portable names', plain: 'plain names', here: 'names as they are' }[names.level],
    { number: 'numbered', reel: 'set apart by reel', day: 'set apart by day' }[clashes],
    emptyFolders ? 'empty folders too' : '',
    removeEmptied && action === 'move' ? 'emptied ones go' : '',
    perFolder === null ? '' : `${perFolder} a folder`,
    equalAsOne ? 'equal ones as one' : '',
  ];
  return words.filter((word) => word !== '').join(', ');
}
