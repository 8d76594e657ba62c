import { ActionIcon, TextInput } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { binName, joinBin, nameOf, parentOf } from '../../core/project/bins';
import type { BinView } from '../../server/projects/views/bins';
import type { QuestionState } from '../shared/asked';
import { Face } from '../shared/Face';
import { useTyped, type Left } from '../shared/form/use-typed';
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
  readonly asked: QuestionState;
}

interface BinNode extends TreeNode {
  readonly bin: BinView | null;
  readonly clips: number;
}

/** The bins as a tree: clips and bins are dragged onto them, by pointer and keyboard. */
export function BinTree({ bins, total, selected, onSelect, onMake, asked }: Props) {
  const [making, setMaking] = useState(false);
  const nodes = useMemo(
    (): BinNode[] => [
      ...(asked.isThere ? [{ id: '', parent: null, name: 'All clips', bin: null, clips: total }] : []),
      ...bins.map((bin) => ({ id: bin.path, parent: parentOf(bin.path) || null, name: nameOf(bin.path), bin, clips: bin.clips })),
    ],
    [bins, total, asked.isThere],
  );
  const box = useRef<HTMLDivElement>(null);
  // The bin that was made is the one in hand, with the keyboard on it.
  const [made, setMade] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  useEffect(() => {
    if (made === null || !bins.some(({ path }) => path === made)) return;
    setMade(null);
    setChosen(made);
    onSelect(made);
  }, [made, bins, onSelect]);
  // Its line comes a moment after it is chosen: the address and the tree each follow in their own time.
  useEffect(() => {
    if (chosen === null || selected !== chosen) return undefined;
    const take = () => {
      const line = box.current?.querySelector<HTMLElement>('[role=treeitem][aria-selected=true]');
      if (!line) return void (frame = requestAnimationFrame(take));
      line.focus();
      setChosen(null);
    };
    let frame = requestAnimationFrame(take);
    return () => cancelAnimationFrame(frame);
  }, [chosen, selected]);
  const name = useTyped(`in ${selected}`, '', {
    keep: (text, how) => {
      if (text.trim() === '') {
        leave(how);
        return true;
      }
      return onMake(selected, text).then((done) => {
        if (done) setMaking(false);
        if (done && how === 'by Enter') setMade(joinBin(selected, binName(text)));
        return done;
      });
    },
    onLeave: leave,
  });
  function leave(how: Left): void {
    setMaking(false);
    if (how !== 'for another') box.current?.querySelector<HTMLElement>('[data-new-bin]')?.focus();
  }
  return (
    <div className="panel bin-tree" ref={box}>
      <div className="bin-head">
        <b>Bins</b>
        <ActionIcon
          size={22}
          variant="subtle"
          color="gray"
          aria-label={selected === '' ? 'New bin' : `New bin in ${nameOf(selected)}`}
          data-new-bin=""
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
          maxLength={200}
          {...name}
        />
      )}
      {!asked.isThere && (
        <Face asked={asked} lines={4}>
          {null}
        </Face>
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
