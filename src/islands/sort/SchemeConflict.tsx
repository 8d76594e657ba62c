import { Button } from '@mantine/core';
import { ruleWords } from '../../core/scheme/rule';
import { REST } from '../../core/scheme/scheme';
import { folderPairs, type FolderState } from '../../core/scheme/scheme-changes';
import { Dialog } from '../shared/Dialog';
import { useShelfNames } from '../shared/use-shelf-names';
import type { SortOf } from './use-sort';

/** A scheme that two have changed: both side by side, and nothing is replaced before one has looked. */
export function SchemeConflict({ sort }: { sort: SortOf }) {
  const { draft, saved, conflict } = sort;
  const shelfName = useShelfNames();
  if (!draft) return null;
  const pairs = saved ? folderPairs(draft.scheme, saved.scheme) : [];
  const differing = pairs.filter(({ isSame }) => !isSame);
  const title = saved ? `"${saved.scheme.name}" was saved elsewhere meanwhile` : `"${draft.scheme.name}" was removed elsewhere`;
  return (
    <Dialog opened={conflict.isOpen} onClose={conflict.close} title={title} size={840}>
      {saved ? (
        <>
          <div className="two-schemes" tabIndex={0} role="group" aria-label="Both states">
            <table>
              <thead>
                <tr>
                  <th scope="col">Yours</th>
                  <th scope="col">Saved elsewhere</th>
                </tr>
              </thead>
              <tbody>
                {draft.scheme.name !== saved.scheme.name && (
                  <tr>
                    <td>
                      <mark>{draft.scheme.name}</mark>
                    </td>
                    <td>
                      <mark>{saved.scheme.name}</mark>
                    </td>
                  </tr>
                )}
                {differing.map(({ id, one, other }) => (
                  <tr key={id}>
                    <td>
                      <Folder state={one} isRest={id === REST} than={other} shelfName={shelfName} />
                    </td>
                    <td>
                      <Folder state={other} isRest={id === REST} than={one} shelfName={shelfName} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="soft">
            {differing.length === 0
              ? 'All folders and rules are the same.'
              : `The other ${pairs.length - differing.length} folders are the same in both.`}
          </p>
        </>
      ) : (
        <p className="tight-above">It is off the list. Your changes are still in hand.</p>
      )}
      <div className="controls">
        <Button variant="default" onClick={conflict.close}>
          Decide later
        </Button>
        <span className="push" />
        <Button variant="default" onClick={() => (saved ? sort.discard() : sort.letGo(), conflict.close())}>
          {saved ? 'Take the saved one' : 'Let it go'}
        </Button>
        <Button variant="default" onClick={() => void sort.saveApart()}>
          Keep mine as another scheme
        </Button>
        <Button loading={sort.isSaving} onClick={() => void sort.save(saved?.revision ?? 0)}>
          {saved ? 'Save mine over it' : 'Put mine back'}
        </Button>
      </div>
    </Dialog>
  );
}

interface FolderProps {
  readonly state: FolderState | null;
  /** The same folder on the other side. */
  readonly than: FolderState | null;
  readonly isRest: boolean;
  readonly shelfName: (id: string) => string;
}

function Folder({ state, than, isRest, shelfName }: FolderProps) {
  if (!state) return <span className="soft">not there</span>;
  const way = state.way.join(' / ');
  const rule = isRest ? 'what no rule takes' : ruleWords(state.rule, shelfName);
  const isMoved = than !== null && way === than.way.join(' / ') && state.at !== than.at;
  return (
    <>
      {than?.way.join(' / ') === way ? way : <mark>{way}</mark>}
      <div className="soft">
        {than && !isRest && ruleWords(than.rule, shelfName) !== rule ? <mark>{rule}</mark> : rule}
        {isMoved && <mark> · in another order</mark>}
      </div>
    </>
  );
}
