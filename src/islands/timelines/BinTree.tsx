import { ActionIcon, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { nameOf, parentOf } from '../../core/project/bins';
import type { BinView } from '../../server/api/views';
import { IconPlus } from '../shared/icons';
import { Tree, type TreeNode } from '../shared/tree/Tree';
import { binDragId, binDropId } from './use-bin-drag';

interface Props {
  readonly bins: readonly BinView[];
  readonly total: number;
  /** Path of the bin in hand; empty for all of them. */
  readonly selected: string;
  readonly onSelect: (path: string) => void;
  readonly onMake: (parent: string, name: string) => Promise<boolean>;
}

interface BinNode extends TreeNode {
  readonly bin: BinView | null;
  readonly clips: number;
}

/** The bins as a tree: clips and bins are dragged onto them, by pointer and keyboard. */
export function BinTree({ bins, total, selected, onSelect, onMake }: Props) {
  const [making, setMaking] = useState(false);
  const [name, setName] = useState('');
  const nodes = useMemo(
    (): BinNode[] => [
      { id: '', parent: null, name: 'All clips', bin: null, clips: total },
      ...bins.map((bin) => ({ id: bin.path, parent: parentOf(bin.path) || null, name: nameOf(bin.path), bin, clips: bin.clips })),
    ],
    [bins, total],
  );
  const make = () => {
    if (name.trim() === '') return setMaking(false);
    void onMake(selected, name).then((done) => {
      if (!done) return;
      setMaking(false);
      setName('');
    });
  };
  return (
    <div className="panel bin-tree">
      <div className="bin-head">
        <b>Bins</b>
        <ActionIcon
          size={22}
          variant="subtle"
          color="gray"
          aria-label={selected === '' ? 'New bin' : `New bin in ${nameOf(selected)}`}
          onClick={() => setMaking(true)}
        >
          <IconPlus size={14} />
        </ActionIcon>
      </div>
      {making && (
        <TextInput
          size="xs"
          m={6}
          autoFocus
          aria-label="Name of the new bin"
          placeholder={selected === '' ? 'Name of the new bin' : `New bin in ${nameOf(selected)}`}
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.currentTarget.value)}
          onKeyDown={(event) => (event.key === 'Enter' ? make() : event.key === 'Escape' && setMaking(false))}
          onBlur={make}
        />
      )}
      <Tree
        label="Bins"
        nodes={nodes}
        selected={selected}
        onSelect={onSelect}
        title={({ bin }) => bin?.note || bin?.path || ''}
        drag={({ bin }) => (bin ? { id: binDragId(bin.path), words: nameOf(bin.path) } : null)}
        dropId={({ id }) => binDropId(id)}
        line={({ bin, name: words, clips }) => (
          <>
            {bin && bin.colour !== '' && <i className={`swatch ${bin.colour}`} title={bin.colour} />}
            <span className="name">{words}</span>
            <span className="soft">{clips || ''}</span>
          </>
        )}
      />
    </div>
  );
}
