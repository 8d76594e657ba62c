import { Button, Checkbox, NumberInput, TextInput } from '@mantine/core';
import { useState } from 'react';
import { readPattern } from '../../core/scheme/pattern';
import { rootFolder } from '../../core/planning/sort/target-folder';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { Choice } from '../shared/form/Choice';
import { SheetField } from '../shared/SheetField';
import { KeepPlan } from '../shared/KeepPlan';
import type { SortChoices, SortOf } from './use-sort';
import { CardRules } from './CardRules';
import { Tokens } from '../shared/Tokens';

/** Where to, under which names, and what else: on the paper. */
export function SortSheet({ projectId, projectName, sort }: { projectId: string; projectName: string; sort: SortOf }) {
  const { choices, change, settings, state } = sort;
  const [cards, setCards] = useState(false);
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
        {choices.action === 'copy' && (
          <PlacePicker label="Second copy" none="No second copy" value={choices.second} onChange={(second) => change({ second })} />
        )}
      </SheetField>
      <SheetField label="Names">
        <Choice
          label="Names"
          options={[
            ['original', 'Keep the name it has'],
            ['clip', 'Take the name of the clip'],
            ['pattern', 'After a pattern'],
          ]}
          value={names.from}
          onChange={(from) => change({ names: { ...names, from } })}
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
          <Choice
            label="How portable names are made"
            options={[
              ['everywhere', 'Windows, macOS and Linux take them'],
              ['plain', 'Plain letters without blanks'],
              ['here', 'As they are, where this system can'],
            ]}
            value={names.level}
            onChange={(level) => change({ names: { ...names, level } })}
          />
          <Choice
            label="What sets files of one name apart"
            options={[
              ['number', 'One name twice: a number'],
              ['reel', 'One name twice: the reel'],
              ['day', 'One name twice: the day'],
            ]}
            value={choices.clashes}
            onChange={(clashes) => change({ clashes })}
          />
        </div>
        <div className="sheet-ticks">
          <Checkbox
            size="xs"
            label="Make clips of media that has none"
            title="Each in a bin named as the folder it goes to. Clips that lie in no bin get theirs; others keep what they have"
            checked={choices.makeClips}
            onChange={(event) => change({ makeClips: event.currentTarget.checked })}
          />
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
          <div>
            <Button size="compact-xs" variant="default" onClick={() => setCards(true)}>
              How camera cards are known …
            </Button>
            <CardRules opened={cards} onClose={() => setCards(false)} />
          </div>
        </div>
      </details>
      <KeepPlan projectId={projectId} kind="sort" settings={settings} name="Sort plan" disabled={!state.plan} />
    </>
  );
}

/** What the further choices are, in a line. */
function moreWords({ names, clashes, perFolder, makeClips, emptyFolders, removeEmptied, action, equalAsOne }: SortChoices): string {
  const words = [
    { everywhere: 'portable names', plain: 'plain names', here: 'names as they are' }[names.level],
    { number: 'numbered', reel: 'set apart by reel', day: 'set apart by day' }[clashes],
    makeClips ? 'new clips in bins' : '',
    emptyFolders ? 'empty folders too' : '',
    removeEmptied && action === 'move' ? 'emptied ones go' : '',
    perFolder === null ? '' : `${perFolder} a folder`,
    equalAsOne ? 'equal ones as one' : '',
  ];
  return words.filter((word) => word !== '').join(', ');
}
