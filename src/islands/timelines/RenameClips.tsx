import { Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { readPattern } from '../../core/scheme/pattern';
import { api } from '../shared/api';
import { Dialog } from '../shared/Dialog';
import { plural } from '../shared/figures';
import { Tokens } from '../shared/Tokens';
import './rename-clips.css';

interface Props {
  readonly projectId: string;
  /** In the order in which they are numbered; null while nothing is renamed. */
  readonly clipIds: readonly string[] | null;
  readonly onClose: () => void;
  readonly onRename: (pattern: string) => Promise<boolean>;
}

/** Many clips get names by a pattern; what each would be called stands there first. */
export function RenameClips({ projectId, clipIds, onClose, onRename }: Props) {
  const [pattern, setPattern] = useState('{clip}');
  const [isBusy, setBusy] = useState(false);
  const [asked] = useDebouncedValue(pattern, 150);
  const read = readPattern(pattern);
  const problem = 'problem' in read ? read.problem : pattern.trim() === '' ? 'Type a name.' : null;
  const { data, isPlaceholderData, error } = useQuery({
    queryKey: ['clips', projectId, 'names', clipIds, asked],
    queryFn: ({ signal }) => api.post(`projects/${projectId}/bins/names`, { clipIds: clipIds ?? [], pattern: asked }, signal),
    enabled: clipIds !== null && asked.trim() !== '' && !('problem' in readPattern(asked)),
    placeholderData: keepPreviousData,
  });
  const isWaiting = data === undefined || isPlaceholderData || asked !== pattern;
  const rename = () => {
    setBusy(true);
    void onRename(pattern).then((done) => (setBusy(false), done && onClose()));
  };
  const count = clipIds?.length ?? 0;
  return (
    <Dialog opened={clipIds !== null} onClose={onClose} title={`Rename ${plural(count, 'clip')}`} size="lg">
      <div className="controls">
        <TextInput
          flex={1}
          label="Pattern of the names"
          classNames={{ input: 'mono-input' }}
          data-autofocus
          maxLength={200}
          value={pattern}
          error={problem ?? error?.message}
          onChange={(event) => setPattern(event.currentTarget.value)}
        />
        <div className="beside-field">
          <Tokens onToken={(token) => setPattern(`${pattern}${token}`)} />
        </div>
      </div>
      <div
        className={isWaiting ? 'renamed-clips waits' : 'renamed-clips'}
        aria-busy={isWaiting}
        tabIndex={0}
        role="group"
        aria-label="Names before and after"
      >
        {data?.rows.map(({ id, before, after }) => (
          <div key={id}>
            <span className="soft">{before}</span>
            <span>{after}</span>
          </div>
        ))}
        {data && data.changed > data.rows.length && <p className="soft">and {plural(data.changed - data.rows.length, 'more clip')}</p>}
      </div>
      <p className="soft">
        {data?.changed === 0
          ? 'They are called that already.'
          : `${plural(data?.changed ?? 0, 'clip gets another name', 'clips get other names')}. Files keep theirs; undo takes it back.`}
      </p>
      <div className="controls">
        <span className="push" />
        <Button variant="default" onClick={onClose}>
          Leave them
        </Button>
        <Button loading={isBusy} disabled={problem !== null || isWaiting || !data?.changed} onClick={rename}>
          Rename {plural(data?.changed ?? 0, 'clip')}
        </Button>
      </div>
    </Dialog>
  );
}
