import { ActionIcon, TextInput } from '@mantine/core';
import { useState, type DragEvent, type KeyboardEvent } from 'react';
import { nameOf, parentOf } from '../../core/project/bins';
import type { BinView } from '../../server/api/views';
import { IconPlus } from '../shared/icons';
import { CLIP_DRAG } from '../shared/VirtualTable';

const BIN_DRAG = 'application/x-mill-bin';

interface Props {
  readonly bins: readonly BinView[];
  readonly total: number;
  /** Path of the bin in hand; empty for all of them. */
  readonly selected: string;
  readonly onSelect: (path: string) => void;
  readonly onMake: (parent: string, name: string) => Promise<boolean>;
  readonly onDropClips: (path: string) => void;
  readonly onDropBin: (path: string, parent: string) => void;
}

/** The bins as a tree: clips and bins are dragged onto them, arrows walk. */
export function BinTree({ bins, total, selected, onSelect, onMake, onDropClips, onDropBin }: Props) {
  const [making, setMaking] = useState(false);
  const [name, setName] = useState('');
  const [over, setOver] = useState<string | null>(null);
  const paths = ['', ...bins.map((bin) => bin.path)];
  const onKeyDown = (event: KeyboardEvent) => {
    const at = paths.indexOf(selected);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: paths.length - 1, ArrowLeft: paths.indexOf(parentOf(selected)) }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    onSelect(paths[Math.min(paths.length - 1, Math.max(0, to))]!);
  };
  const make = () => {
    if (name.trim() === '') return setMaking(false);
    void onMake(selected, name).then((done) => {
      if (!done) return;
      setMaking(false);
      setName('');
    });
  };
  const drop = (path: string) => ({
    onDragOver: (event: DragEvent) => {
      if (![CLIP_DRAG, BIN_DRAG].some((type) => event.dataTransfer.types.includes(type))) return;
      event.preventDefault();
      setOver(path);
    },
    onDragLeave: () => setOver(null),
    onDrop: (event: DragEvent) => {
      event.preventDefault();
      setOver(null);
      const bin = event.dataTransfer.getData(BIN_DRAG);
      if (bin === '') onDropClips(path);
      else if (bin !== path) onDropBin(bin, path);
    },
  });
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
      <div role="tree" aria-label="Bins" tabIndex={0} onKeyDown={onKeyDown}>
        <div
          role="treeitem"
          aria-selected={selected === ''}
          className={['bin', selected === '' ? 'sel' : '', over === '' ? 'over' : ''].join(' ')}
          onClick={() => onSelect('')}
          {...drop('')}
        >
          <span>All clips</span>
          <span className="soft">{total}</span>
        </div>
        {bins.map((bin) => (
          <div
            key={bin.path}
            role="treeitem"
            aria-selected={bin.path === selected}
            aria-level={bin.path.split('/').length}
            className={['bin', bin.path === selected ? 'sel' : '', over === bin.path ? 'over' : ''].join(' ')}
            style={{ paddingLeft: 10 + 14 * bin.path.split('/').length }}
            title={bin.note || bin.path}
            draggable
            onDragStart={(event) => event.dataTransfer.setData(BIN_DRAG, bin.path)}
            onClick={() => onSelect(bin.path)}
            {...drop(bin.path)}
          >
            {bin.colour !== '' && <i className="swatch" style={{ background: `var(--${bin.colour})` }} title={bin.colour} />}
            <span>{nameOf(bin.path)}</span>
            <span className="soft">{bin.clips || ''}</span>
          </div>
        ))}
      </div>
    </div>
  );
}
