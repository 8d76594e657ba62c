import { DndContext } from '@dnd-kit/core';
import { Button } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { addFolder, canMoveInto, folderOfId, moveFolder, removeFolder } from '../../core/scheme/edit-scheme';
import { folderOf, joinPath, placeKey, samePlace, type Place } from '../../core/media/item';
import { rootFolder } from '../../core/planning/sort/target-folder';
import { REST } from '../../core/scheme/scheme';
import type { SortRow } from '../../core/planning/sort/sort-rows';
import type { PlanView } from '../../server/kinds/plan-views';
import { Empty } from '../shared/Empty';
import { Face, StaleNote } from '../shared/Face';
import { Gone } from '../shared/Gone';
import { useStay } from '../shared/use-stay';
import { InStage } from '../shared/InStage';
import { plural } from '../shared/figures';
import { PlanSheet } from '../shared/PlanSheet';
import { useProject } from '../shared/questions';
import { StageHead } from '../shared/StageHead';
import { useTreeDrag } from '../shared/tree/use-tree-drag';
import { InHand } from '../shared/tree/InHand';
import { useOrder } from '../shared/table/use-order';
import { useWindow } from '../shared/table/use-window';
import { useAddressPlace, useAddressView, useAddressWord } from '../shared/use-address';
import { ViewTabs } from '../shared/ViewTabs';
import { FolderEditor } from './FolderEditor';
import { LeavingFolder } from './LeavingFolder';
import { NowThen } from './NowThen';
import { SchemeHead } from './SchemeHead';
import { ALL, SchemeTree } from './SchemeTree';
import { ScopeChoice } from './ScopeChoice';
import { SortFlow } from './SortFlow';
import { SORTED_FILES, SortRows } from './SortRows';
import { SortSheet } from './SortSheet';
import { useSort } from './use-sort';
import './sort.css';

const NO_FIGURES: readonly never[] = [];
const VIEWS = ['lands', 'trees'] as const;
const VIEW_NAMES = { lands: 'What lands where', trees: 'Now and then' } as const;

interface Ticked {
  readonly ticked: ReadonlySet<string>;
  readonly inHand: readonly SortRow[];
}
const NOTHING_TICKED: Ticked = { ticked: new Set(), inHand: [] };

/** How do all these scattered files get into our standard folders, under sensible names? */
export function Sort({ projectId }: { projectId: string }) {
  const sort = useSort(projectId);
  const { choices, change, scheme, settings, state } = sort;
  const { data: project } = useProject(projectId);
  const [view, setView] = useAddressView('view', VIEWS);
  const [group, setGroup] = useAddressPlace('folder');
  const [word, setWord] = useAddressWord('filter');
  const order = useOrder(SORTED_FILES, ['path', 'name', 'size']);
  const [unit, setUnit] = useState<string | null>(null);
  const [{ ticked, inHand }, tick] = useStay<Ticked>('ticked', NOTHING_TICKED);
  const [isEditing, setEditing] = useState(false);
  /** The folder that goes with all in it when that is said. */
  const [leaving, setLeaving] = useState<string | null>(null);
  // What the overview leads here for is what is sorted from now on.
  const [of, setOf] = useAddressWord('of');
  const isKnown = choices !== null;
  useEffect(() => {
    if (of === null || !isKnown) return;
    const cut = of.indexOf('/');
    change({ scope: cut < 0 ? { of: 'project' } : { of: 'folder', place: { shelfId: of.slice(0, cut), path: of.slice(cut + 1) } } });
    setOf(null);
  }, [of, isKnown]);
  const editing = isEditing && sort.isOwn && choices?.structure === 'scheme';
  const detail = state.plan?.detail ?? null;
  const shown = group ?? ALL;
  const [filter] = useDebouncedValue(word ?? '', 150);
  const list = useWindow<SortRow>(['plan', 'rows', 'sort'], state.settings !== null && detail ? 'plans/rows' : null, {
    projectId,
    kind: 'sort',
    settings: state.settings,
    group: shown,
    filter,
    sort: order.key,
    down: order.down,
  });
  const isGone =
    detail !== null &&
    scheme !== null &&
    ![ALL, REST].includes(shown) &&
    (choices?.structure === 'scheme'
      ? folderOfId(scheme, shown) === null
      : !state.following && detail.folders?.some(({ id }) => id === shown) === false);
  const put = (unitIds: readonly string[], folderId: string | null) => {
    if (!choices) return;
    const own = new Set(unitIds);
    const kept = choices.exceptions.filter(({ unitId }) => !own.has(unitId));
    change({ exceptions: folderId === null ? kept : [...kept, ...unitIds.map((unitId) => ({ unitId, folderId }))] });
    tick(NOTHING_TICKED);
  };
  const keepWhole = (whole: boolean, rows: readonly SortRow[]) => {
    if (!choices) return;
    const folders = rows.map(({ kind, from }): Place => (kind === 'folder' || kind === 'card' ? from : { ...from, path: folderOf(from.path) }));
    const others = choices.whole.filter((place) => !folders.some((folder) => samePlace(folder, place)));
    const own = [...new Map(folders.filter(({ path }) => path !== '').map((place) => [placeKey(place), place])).values()];
    change({ whole: whole ? [...others, ...own] : others });
    tick(NOTHING_TICKED);
  };
  const canDrop = useCallback(
    (dragged: string, over: string) => {
      const into = over.startsWith('into ') ? over.slice('into '.length) : null;
      if (into === null || !scheme) return false;
      if (dragged.startsWith('unit ')) return into === REST || folderOfId(scheme, into) !== null;
      return into !== REST && canMoveInto(scheme, dragged.slice('folder '.length), into === ALL ? null : into);
    },
    [scheme],
  );
  const drag = useTreeDrag({
    canDrop,
    line: 'folder',
    words: (over) => {
      const id = over.slice('into '.length);
      return id === REST ? (scheme?.rest ?? '') : id === ALL ? 'the top' : ((scheme && folderOfId(scheme, id)?.name) ?? 'nothing');
    },
    onDrop: (dragged, over) => {
      const into = over.slice('into '.length);
      if (dragged.startsWith('unit ')) {
        const id = dragged.slice('unit '.length);
        // What is dragged moves; with what is ticked only if it is one of them.
        put(ticked.has(id) ? [...ticked] : [id], into);
      } else if (scheme) sort.edit(moveFolder(scheme, dragged.slice('folder '.length), into === ALL ? null : into));
    },
  });
  const total = useMemo(
    () => ({ files: detail?.folders === undefined ? 0 : (state.plan?.headline.of ?? 0), bytes: detail?.bytes ?? 0 }),
    [detail, state.plan],
  );
  const add = (parent: string | null) => {
    if (!scheme) return;
    const id = crypto.randomUUID === undefined ? `f${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}` : crypto.randomUUID();
    sort.edit(addFolder(scheme, parent, { id, name: 'New folder', rule: null, folders: [] }));
    setGroup(id);
  };
  const remove = (id: string) => {
    if (!scheme) return;
    sort.edit(removeFolder(scheme, id));
    setGroup(null);
    setLeaving(null);
  };
  const tabs = <ViewTabs label="Views of the sort" names={VIEW_NAMES} view={view} onChange={setView} />;
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle={sort.asked.error ? '' : settings === null && scheme ? 'Choose the shelf or the folder that is to be sorted.' : null}
          runLabel={(plan) => runWords(plan, choices?.action ?? 'move')}
        >
          <SortSheet projectId={projectId} projectName={project?.name ?? ''} sort={sort} />
        </PlanSheet>
      }
    >
      <StageHead title="Sort into standard folders" lead="Every file to its place under a sensible name; clips and timelines follow.">
        {tabs}
      </StageHead>
      {choices && <ScopeChoice projectId={projectId} choices={choices} onChange={change} extra={detail?.extraBytes ?? null} />}
      {scheme && !settings ? (
        <Empty title="What is to be sorted?">
          Choose a card, a shelf or a folder above.
          <div>
            <Button variant="default" onClick={() => change({ scope: { of: 'project' } })}>
              Only make the folders
            </Button>
          </div>
        </Empty>
      ) : !detail || !scheme || !settings ? (
        <Face asked={sort.asked.isThere ? state.asked : sort.asked} lines={10}>
          {null}
        </Face>
      ) : view === 'trees' ? (
        <NowThen detail={detail} destination={settings.destination?.shelfId ?? null} />
      ) : (
        <DndContext {...drag.context}>
          <StaleNote asked={state.asked} />
          {isGone && <Gone what="The folder" onLeave={() => setGroup(null)} />}
          {editing ? null : (
            <SortFlow flow={detail.flow} scheme={scheme} structure={settings.structure} onGroup={(next) => setGroup(next === '' ? null : next)} />
          )}
          <div className="sort-stage">
            <div className="panel scheme-tree">
              <SchemeHead sort={sort} isEditing={editing} onEdit={setEditing} />
              <SchemeTree
                scheme={scheme}
                structure={settings.structure}
                figures={detail.folders ?? NO_FIGURES}
                total={total}
                selected={shown}
                onSelect={(id) => (setGroup(id === ALL ? null : id), setUnit(null), tick(NOTHING_TICKED))}
                isEdited={editing}
              />
            </div>
            <div className="lands-here">
              {editing && (
                <FolderEditor
                  projectId={projectId}
                  scheme={scheme}
                  folderId={shown}
                  onEdit={sort.edit}
                  onAdd={add}
                  onRemove={(id) => (folderOfId(scheme, id)?.folders.length ? setLeaving(id) : remove(id))}
                />
              )}
              <SortRows
                settings={settings}
                root={joinPath(settings.destination?.path ?? '', rootFolder({ project: { id: projectId, name: project?.name ?? '' } }, settings))}
                list={list}
                flow={detail.flow}
                group={shown}
                onGroup={(next) => setGroup(next === '' ? null : next)}
                filter={word ?? ''}
                onFilter={setWord}
                sort={order}
                onSort={order.sortBy}
                selected={unit}
                onSelect={setUnit}
                ticked={ticked}
                inHand={inHand}
                onTick={(keys, rows) => tick({ ticked: keys, inHand: rows })}
                onMove={put}
                onWhole={keepWhole}
              />
            </div>
          </div>
          <InHand words={drag.words} />
          <LeavingFolder scheme={scheme} id={leaving} onKeep={() => setLeaving(null)} onRemove={remove} />
        </DndContext>
      )}
    </InStage>
  );
}

function runWords({ headline, blocked, stepCounts, lines }: PlanView, action: 'move' | 'copy'): string {
  if (blocked !== null) return 'Run this plan';
  const folders = Number(lines.find(({ label }) => label === 'Empty folders made')?.text ?? 0);
  if (headline.of === 0 && folders > 0) return `Make ${plural(folders, 'folder')}`;
  if (headline.value === 0) return `Make ${plural(stepCounts.link ?? 0, 'change')}`;
  return `${action === 'move' ? 'Move' : 'Copy'} ${plural(headline.value, 'file')}`;
}
