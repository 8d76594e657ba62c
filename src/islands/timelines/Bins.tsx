import { DndContext } from '@dnd-kit/core';
import { ActionIcon, Button, TextInput, Tooltip } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import type { BinsView } from '../../server/projects/views/bins';
import type { ClipView } from '../../server/projects/views/clip';
import type { BinEdit } from '../../core/forms/bin-edit';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { StaleNote } from '../shared/Face';
import { Gone } from '../shared/Gone';
import { useBins } from '../shared/questions';
import { useAddressPlace, useAddressWord } from '../shared/use-address';
import { plural } from '../shared/figures';
import { useShelfNames } from '../shared/use-shelf-names';
import { alsoOfClips } from './also-of-items';
import { RenameClips } from './RenameClips';
import { useUndoKeys } from '../shared/use-undo-keys';
import { useStay } from '../shared/use-stay';
import { remember } from '../shared/use-remembered';
import { InStage } from '../shared/InStage';
import { IconDots, IconPlus, IconRedo, IconSearch, IconUndo } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { tell, tellError } from '../shared/notices';
import { stagePath } from '../shared/stages';
import { StateSign } from '../shared/StateSign';
import { sortedBy } from '../shared/table/column';
import { useOrder } from '../shared/table/use-order';
import { useHidden } from '../shared/table/use-hidden';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { BinTree } from './BinTree';
import { InHand } from '../shared/tree/InHand';
import { clipDragId, useBinDrag } from './use-bin-drag';
import { ChooseItems } from './ChooseItems';
import { ClipSheet } from './ClipSheet';
import { JoinSheet } from './JoinSheet';
import { goTo } from '../shared/go-to';
import { Empty } from '../shared/Empty';
import { oneOrMany } from '../../core/words/figures';

const NO_BINS: BinsView['bins'] = [];

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  readonly onOpen: (timelineId: string, eventIndex: number) => void;
}

const idOf = ({ id }: ClipView) => id;

/** What lies where: bins and their clips, by hand. Everything done here can be taken back. */
export function Bins({ projectId, tabs, onOpen }: Props) {
  const client = useQueryClient();
  const listed = useBins(projectId);
  const { data } = listed;
  const [binWord, goToBin] = useAddressPlace('bin');
  const bin = binWord ?? '';
  const setBin = (path: string) => goToBin(path === '' ? null : path);
  const [clipId, setClipId] = useAddressWord('clip');
  const [joining, setJoining] = useAddressWord('join');
  const isJoining = joining !== null;
  const [ticked, setTicked] = useStay<ReadonlySet<string>>('ticked clips', new Set());
  const [looked, setFilter] = useAddressWord('find');
  const filter = looked ?? '';
  const [choosing, setChoosing] = useState(false);
  const shelfName = useShelfNames();
  const [renaming, setRenaming] = useState<readonly string[] | null>(null);

  const edit = async (body: BinEdit): Promise<boolean> => {
    try {
      await api.post(`projects/${projectId}/bins`, body);
      await client.invalidateQueries();
      return true;
    } catch (error) {
      tellError(error);
      return false;
    }
  };
  const step = (direction: 'undo' | 'redo') =>
    api
      .post(`projects/${projectId}/bins/${direction}`)
      .then(({ title }) => {
        tell(direction === 'undo' ? 'Taken back' : 'Done again', title);
        // What was ticked may be there no more.
        setTicked(new Set());
      })
      .then(() => client.invalidateQueries(), tellError);
  useUndoKeys((way) => void step(way));

  const shown = filter.trim() !== '' || bin === '' ? COLUMNS_WITH_BIN : COLUMNS;
  const sort = useOrder('Clips', sortedBy(shown));
  const [words] = useDebouncedValue(filter.trim(), 150);
  // What is looked for is looked for in all bins.
  const query = new URLSearchParams({ filter: words, bin: words === '' ? bin : '', sort: sort.key, down: String(sort.down) });
  const clips = useWindow(['clips', projectId], `projects/${projectId}/clips?${query}`);
  const hidden = useHidden(clips, idOf, ticked);
  const inSight = clips.rows.find((entry) => entry?.id === clipId);
  const { data: apart } = useQuery({
    queryKey: ['clips', projectId, 'one', clipId],
    queryFn: () => api.get(`projects/${projectId}/clips?ids=${clipId}`),
    enabled: clipId !== null && !inSight,
  });
  const found = inSight ?? apart?.rows[0] ?? null;
  // What is typed into its sheet stays there while the list is scrolled away from it.
  const inHand = useRef<ClipView | null>(null);
  if (found) inHand.current = found;
  const clip = clipId !== null && inHand.current?.id === clipId && (found !== null || apart === undefined) ? inHand.current : null;
  const here = data?.bins.find((entry) => entry.path === bin) ?? null;
  const chosen = [...ticked];
  /** A stage begins with the clips that are ticked. */
  const takeTo = (stage: 'sort' | 'proxies') =>
    remember(projectId, stage, { scope: { of: 'clips', clipIds: chosen } }).then(() => goTo(stagePath(projectId, stage)), tellError);
  const move = (clipIds: readonly string[], binPath: string) =>
    void edit({ do: 'change-clips', clipIds, change: { binPath } }).then((done) => done && setTicked(new Set()));
  const drag = useBinDrag({
    // What is dragged moves; with what is ticked only if it is one of them.
    onClip: (id, path) => move(ticked.has(id) ? [...ticked] : [id], path),
    onBin: (path, parent) => void edit({ do: 'move-bin', path, parent }),
  });
  const unused = (bin === '' ? data?.unused : here?.unused) ?? 0;

  return (
    <InStage
      sheet={
        isJoining ? (
          <JoinSheet projectId={projectId} onClose={() => setJoining(null)} />
        ) : data ? (
          <ClipSheet projectId={projectId} clip={clip} bin={here} bins={data.bins} onEdit={edit} onOpen={onOpen} onBin={setBin} />
        ) : null
      }
    >
      <div className="timelines">
        <div className="stage-head">
          <h1>Timelines</h1>
          {tabs}
          <span className="push" />
          <Tooltip label={data?.undo ? `Take back: ${data.undo}` : 'Nothing to take back'}>
            <ActionIcon variant="default" size={30} aria-label="Undo" disabled={!data?.undo} onClick={() => void step('undo')}>
              <IconUndo size={16} />
            </ActionIcon>
          </Tooltip>
          <Tooltip label={data?.redo ? `Do again: ${data.redo}` : 'Nothing to do again'}>
            <ActionIcon variant="default" size={30} aria-label="Redo" disabled={!data?.redo} onClick={() => void step('redo')}>
              <IconRedo size={16} />
            </ActionIcon>
          </Tooltip>
          <Button size="xs" leftSection={<IconPlus size={14} />} onClick={() => setChoosing(true)}>
            Clips from shelves
          </Button>
        </div>
        <StaleNote asked={askedOf(listed)} />
        {data && bin !== '' && !here && <Gone what="The bin" onLeave={() => setBin('')} />}
        {clipId !== null && !inSight && apart?.rows.length === 0 && <Gone what="The clip" onLeave={() => setClipId(null)} />}
        <DndContext {...drag.context}>
          <div className="bins">
            <BinTree
              bins={data?.bins ?? NO_BINS}
              asked={askedOf(listed)}
              total={data?.clips ?? 0}
              selected={bin}
              onSelect={(path) => (setBin(path), setClipId(null), setTicked(new Set()))}
              onMake={(parent, name) => edit({ do: 'make-bin', parent, name })}
            />
            <div className="bin-clips">
              <div className="controls">
                <TextInput
                  data-filter=""
                  size="xs"
                  flex={1}
                  placeholder="Find by clip, file or note, in all bins"
                  aria-label="Find a clip"
                  leftSection={<IconSearch size={14} />}
                  value={filter}
                  onChange={(event) => setFilter(event.currentTarget.value)}
                />
                {chosen.length > 0 && (
                  <Menu position="bottom-end">
                    <Menu.Target>
                      <Button size="xs" variant="default">
                        Move {chosen.length}
                        {hidden ? ` (${hidden} not in this list)` : ''} to …
                      </Button>
                    </Menu.Target>
                    <Menu.Dropdown mah={320} className="scrolls">
                      <Menu.Item onClick={() => move(chosen, '')}>no bin</Menu.Item>
                      {data?.bins.map((entry) => (
                        <Menu.Item key={entry.path} onClick={() => move(chosen, entry.path)}>
                          {entry.path.split('/').join(' / ')}
                        </Menu.Item>
                      ))}
                    </Menu.Dropdown>
                  </Menu>
                )}
                <Menu position="bottom-end">
                  <Menu.Target>
                    <ActionIcon variant="default" size={30} aria-label="More for these clips">
                      <IconDots size={16} />
                    </ActionIcon>
                  </Menu.Target>
                  <Menu.Dropdown>
                    <Menu.Item component="a" href={`/api/projects/${projectId}/bins/clip-list?bin=${encodeURIComponent(bin)}`} download>
                      Clip list of {bin === '' ? 'all bins' : 'this bin'} (.csv)
                    </Menu.Item>
                    <Menu.Item disabled={chosen.length === 0} onClick={() => setRenaming(chosen)}>
                      Rename {plural(chosen.length, 'ticked clip')} by a pattern
                    </Menu.Item>
                    <Menu.Item disabled={chosen.length === 0} onClick={() => void takeTo('sort')}>
                      Sort {plural(chosen.length, 'ticked clip')} into standard folders
                    </Menu.Item>
                    <Menu.Item disabled={chosen.length === 0} onClick={() => void takeTo('proxies')}>
                      Make proxies of {plural(chosen.length, 'ticked clip')}
                    </Menu.Item>
                    <Menu.Item onClick={() => setJoining('1')}>Join clips that are one source</Menu.Item>
                    <Menu.Item
                      disabled={unused === 0}
                      onClick={() =>
                        void edit({ do: 'tidy', bin }).then(
                          (done) =>
                            done &&
                            tell(
                              'Tidied',
                              `${unused} unused ${oneOrMany(unused, 'clip is', 'clips are')} out of the bins. Files are untouched; Undo brings them back.`,
                            ),
                        )
                      }
                    >
                      Tidy: take {unused} unused {oneOrMany(unused, 'clip', 'clips')} out of {bin === '' ? 'all bins' : 'this bin'}
                    </Menu.Item>
                  </Menu.Dropdown>
                </Menu>
              </div>
              <VirtualTable
                label="Clips"
                also={() => alsoOfClips(projectId, shelfName)}
                asked={clips.asked}
                rows={clips.rows}
                pages={clips}
                columns={shown}
                sort={sort}
                onSort={sort.sortBy}
                rowKey={(entry) => entry.id}
                selected={clipId}
                onSelect={setClipId}
                ticks={{ ticked, onTick: setTicked, words: (entry) => `Tick ${entry.name}` }}
                drag={{
                  id: (entry) => clipDragId(entry.id),
                  name: (entry) => entry.name,
                  words: (entry) => (ticked.has(entry.id) && ticked.size > 1 ? plural(ticked.size, 'clip') : entry.name),
                }}
                empty={
                  <Empty title={words !== '' ? 'Nothing is called that' : 'No clip in here'}>
                    {words === '' && 'Drag clips onto this bin, or make some from what is on the shelves.'}
                  </Empty>
                }
              />
            </div>
          </div>
          <InHand words={drag.words} />
        </DndContext>
      </div>
      <RenameClips
        projectId={projectId}
        clipIds={renaming}
        onClose={() => setRenaming(null)}
        onRename={(pattern) => edit({ do: 'name-clips', clipIds: renaming ?? [], pattern })}
      />
      {choosing && (
        <ChooseItems
          bin={bin}
          onClose={() => setChoosing(false)}
          onTake={(itemIds) => edit({ do: 'add-items', itemIds, binPath: bin }).then((done) => done && setChoosing(false))}
        />
      )}
    </InStage>
  );
}

function columns(withBin: boolean): readonly Column<ClipView>[] {
  return [
    { key: 'state', title: '', width: '16px', cell: (clip) => <StateSign state={clip.state} bare /> },
    {
      key: 'name',
      title: 'Clip',
      width: 'minmax(100px, 1.2fr)',
      cell: (clip) => (
        <span title={clip.note || clip.name}>
          {clip.colour !== '' && <i className={`swatch ${clip.colour}`} title={clip.colour} />}
          {clip.name}
          {clip.note !== '' && <span className="soft"> · {clip.note}</span>}
        </span>
      ),
    },
    ...(withBin
      ? [
          {
            key: 'bin',
            title: 'Bin',
            width: 'minmax(60px, 0.7fr)',
            cell: (clip: ClipView) => (
              <span className="soft" title={clip.binPath}>
                {clip.binPath.split('/').join(' / ')}
              </span>
            ),
          },
        ]
      : []),
    {
      key: 'file',
      title: 'File',
      width: 'minmax(96px, 1fr)',
      cell: (clip) => (
        <span
          className="file-copies"
          title={[...clip.items.map((item) => item.name), ...(clip.copies > 1 ? [`${clip.copies} copies`] : [])].join('\n')}
        >
          <span className="mono">{clip.fileName}</span>
          {clip.items.length > 1 && <span className="soft">+{clip.items.length - 1}</span>}
          {clip.copies > 1 && <span className="soft">×{clip.copies}</span>}
        </span>
      ),
    },
    { key: 'length', title: 'Length', width: '90px', unsorted: true, cell: (clip) => <span className="mono">{clip.length}</span> },
    {
      key: 'events',
      title: 'Events',
      width: '46px',
      numeric: true,
      cell: (clip) => (clip.events === 0 ? <span className="soft">unused</span> : clip.events),
    },
  ];
}

const COLUMNS = columns(false);
const COLUMNS_WITH_BIN = columns(true);
