import { createSpotlight, Spotlight, type SpotlightActionData } from '@mantine/spotlight';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { fileName, folderOf, type Item } from '../../core/media/item';
import type { ClipView } from '../../server/projects/views/clip';
import type { RunSummary } from '../../server/runs/views/run';
import { filterWords, fits } from '../../core/words/filter-words';
import type { Window } from '../../core/lists/list-window';
import { api } from './api';
import { shortDate } from './dates';
import { IconSearch } from './icons';
import { useBins, useCrates, useProjects, useTimelines } from './questions';
import { STAGES, stagePath } from './stages';
import { goTo } from './go-to';
import { useShelfNames } from './use-shelf-names';

const [store, spotlight] = createSpotlight();

export const openPalette = () => spotlight.open();

/** Of each kind of thing so many are shown. */
const MOST_OF_A_KIND = 6;

/**
 * A window of a list as the words are typed; nothing is asked before the first. What was found by earlier words stays only
 * where the new ones stand in it too (`text`): a key must not open what was looked for before.
 */
function useFound<Row>(name: string, path: string | null, asked: string, typed: string, text: (row: Row) => string): readonly Row[] {
  const words = asked;
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['found', name, path, words],
    queryFn: () => api.getFrom<Window<Row>>(`${path}${new URLSearchParams({ filter: words, limit: String(MOST_OF_A_KIND) })}`),
    enabled: path !== null && words !== '',
    placeholderData: keepPreviousData,
  });
  if (typed.trim() === '' || !data) return [];
  if (typed.trim() === words && !isPlaceholderData) return data.rows;
  const all = filterWords(typed);
  return data.rows.filter((row) => fits(all, text(row)));
}

/** The id of the palette's field. */
const FIELD = 'find-anything';

/** Letters that come between the key that opens it and its field having the keyboard are meant for the field. */
function useEarlyLetters(setWords: (words: (before: string) => string) => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!store.getState().opened || (event.target as HTMLElement).id === FIELD) return;
      if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      setWords((before) => before + event.key);
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [setWords]);
}

/** When a dialog that closes just then gives the keyboard back: longer than it takes to fade. */
const GIVEN_BACK_MS = [60, 160, 320, 640];

/** The keyboard stays in the palette while it is open: a dialog that has just been closed may give it back behind it. */
function useHeldFocus(isOpen: boolean): void {
  useEffect(() => {
    if (!isOpen) return;
    const hold = () => {
      const field = document.getElementById(FIELD);
      const own = field?.closest('[role=dialog]') ?? field?.parentElement;
      if (field && !own?.contains(document.activeElement)) field.focus();
    };
    document.addEventListener('focusin', hold);
    const timers = GIVEN_BACK_MS.map((after) => setTimeout(hold, after));
    return () => {
      document.removeEventListener('focusin', hold);
      timers.forEach(clearTimeout);
    };
  }, [isOpen]);
}

/** Finds anything by a few letters and leads to it: stages, timelines, clips, bins, files, runs, crates, projects. */
export function Palette({ projectId }: { projectId: string | null }) {
  const [words, setWords] = useState('');
  const [asked] = useDebouncedValue(words.trim(), 150);
  const [isOpen, setOpen] = useState(false);
  useEarlyLetters(setWords);
  useHeldFocus(isOpen);
  const asks = isOpen ? projectId : null;
  const { data: timelines = [] } = useTimelines(asks);
  const { data: bins } = useBins(asks);
  const { data: crates = [] } = useCrates(asks);
  const { data: projects = [] } = useProjects();
  const names = useShelfNames();
  const clips = useFound<ClipView>('clips', asks && `projects/${asks}/clips?`, asked, words, (clip) => `${clip.name} ${clip.fileName}`);
  const runs = useFound<RunSummary>('runs', asks && `runs?project=${asks}&`, asked, words, ({ title }) => title);
  const files = useFound<Item>('items', isOpen ? 'items?' : null, asked, words, ({ place }) => place.path);
  const all = filterWords(words);
  const those = <T,>(list: readonly T[], text: (entry: T) => string) => list.filter((entry) => fits(all, text(entry))).slice(0, MOST_OF_A_KIND);
  const entry = (id: string, label: string, description: string, href: string): SpotlightActionData => ({
    id,
    label,
    description,
    onClick: () => goTo(href),
  });
  const at = (stage: Parameters<typeof stagePath>[1], query: Record<string, string>) =>
    `${stagePath(projectId!, stage)}?${new URLSearchParams(query)}`;
  // Files lie on shelves, and shelves are shown in a project; without one, in that which was used last.
  const home = projectId ?? projects[0]?.id;
  const groups: readonly [string, readonly SpotlightActionData[]][] = [
    [
      'Stages',
      projectId === null ? [] : those(STAGES, ({ name }) => name).map(({ id, name, key }) => entry(id, name, `Key ${key}`, stagePath(projectId, id))),
    ],
    [
      'Timelines',
      those(timelines, ({ name }) => name).map(({ id, name, sourceName }) =>
        entry(`t ${id}`, name, `From ${sourceName}`, at('timelines', { timeline: id })),
      ),
    ],
    [
      'Clips',
      clips.map(({ id, name, binPath, fileName: file, copies }) =>
        entry(
          `c ${id}`,
          name,
          [binPath.split('/').join(' / ') || 'no bin', file, ...(copies > 1 ? [`${copies} copies`] : [])].join(' · '),
          at('timelines', { view: 'bins', bin: binPath, clip: id }),
        ),
      ),
    ],
    [
      'Bins',
      those(bins?.bins ?? [], ({ path }) => path).map(({ path }) =>
        entry(`b ${path}`, path.split('/').join(' / '), 'Bin', at('timelines', { view: 'bins', bin: path })),
      ),
    ],
    [
      'Files',
      home === undefined
        ? []
        : files.map(({ id, place }) =>
            entry(
              `f ${id}`,
              fileName(place.path),
              [names(place.shelfId), folderOf(place.path)].filter((part) => part).join(' / '),
              `${stagePath(home, 'shelves')}?${new URLSearchParams({ shelf: place.shelfId, item: id })}`,
            ),
          ),
    ],
    [
      'Crates',
      those(crates, ({ name }) => name).map(({ id, name, madeAt, shelfName }) =>
        entry(`k ${id}`, name, `Made ${shortDate(madeAt)}, on ${shelfName}`, at('crates', { view: 'made', crate: id })),
      ),
    ],
    [
      'Runs',
      runs.map(({ id, title, createdAt }) =>
        entry(`r ${id}`, `Run ${id}, ${title}`, `Begun ${shortDate(createdAt)}`, at('runs', { run: String(id) })),
      ),
    ],
    ['Projects', those(projects, ({ name }) => name).map(({ id, name }) => entry(`p ${id}`, name, 'Project', stagePath(id, 'overview')))],
  ];
  const isEmpty = groups.every(([, actions]) => actions.length === 0);
  return (
    <Spotlight
      store={store}
      actions={groups.filter(([, actions]) => actions.length > 0).map(([group, actions]) => ({ group, actions: [...actions] }))}
      // The server and the lists above have looked already.
      filter={(_, actions) => actions}
      query={words}
      onQueryChange={setWords}
      onSpotlightOpen={() => setOpen(true)}
      onSpotlightClose={() => setOpen(false)}
      shortcut={['mod + K']}
      nothingFound={asked === words.trim() ? 'Nothing is called that' : 'Looking …'}
      highlightQuery
      searchProps={{
        id: FIELD,
        leftSection: <IconSearch size={16} />,
        placeholder: projectId === null ? 'A file, a project' : 'A clip, a file, a bin, a timeline, a run, a crate, a stage',
        'aria-label': 'Find anything',
        // Where nothing is shown the keys of the list would look for it in vain.
        onKeyDownCapture: (event) => {
          if (!isEmpty || !['Enter', 'ArrowDown', 'ArrowUp'].includes(event.key)) return;
          event.preventDefault();
          event.stopPropagation();
        },
      }}
      scrollable
      maxHeight={420}
    />
  );
}
