import { useLocalStorage, useMediaQuery } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { LINK_STATES } from '../../core/project/clip';
import { rateLabel } from '../../core/time/rate';
import { api } from './api';
import { askedOf } from './asked';
import { Empty } from './Empty';
import { StaleNote } from './Face';
import { plural } from './figures';
import { HelpSheet } from './HelpSheet';
import { IconChevron } from './icons';
import { SheetContext } from './InStage';
import { useNews } from './news/use-news';
import { Palette, openPalette } from './Palette';
import { useCrates, useProject, useShelves, type ProjectWithChoices } from './questions';
import { RunStrip } from './RunStrip';
import { STAGES, stagePath, type Stage } from './stages';
import { StateSign, stateColour } from './StateSign';
import { useKeys } from './use-keys';

export function Mark() {
  return (
    <a className="mark" href="/" title="All projects">
      <svg width="24" height="24" viewBox="0 0 24 24" fill="none" stroke="currentColor" strokeWidth="2" aria-hidden="true">
        <path d="M2 20h20M2 11h20M5 11V4h4v7M12 11V6l4-1 1 6M6 20v-6h5v6M15 20v-5h4v5" />
      </svg>
      <span>Mill Shelf</span>
    </a>
  );
}

/** What is on every page: news, keys, help, find anything. */
export function Around({ projectId }: { projectId: string | null }) {
  useNews();
  const [help, setHelp] = useState(false);
  const openHelp = useCallback(() => setHelp(true), []);
  useKeys(projectId, openHelp);
  return (
    <>
      <Palette projectId={projectId} />
      <HelpSheet opened={help} onClose={() => setHelp(false)} />
    </>
  );
}

export function FindButton() {
  return (
    <button type="button" className="linkish soft plain-link push nowrap" onClick={openPalette}>
      Ctrl K find anything
    </button>
  );
}

interface Props {
  readonly projectId: string;
  readonly stage: Stage['id'];
  readonly children: ReactNode;
}

/** The frame the stages stand in; it stays while they change. */
export function Frame({ projectId, stage, children }: Props) {
  const query = useProject(projectId);
  const project = query.data;
  useEffect(() => {
    void api.post(`projects/${projectId}/open`).catch(() => undefined);
  }, [projectId]);
  const [asks, setAsks] = useState<string | null>(null);
  const [element, setElement] = useState<HTMLElement | null>(null);
  const place = useMemo(() => ({ element, setAsks }), [element]);
  const fold = useFold(asks ?? '');
  return (
    <div
      className={['frame', asks === null ? 'no-sheet' : '', fold.isNarrow ? 'narrow' : '', fold.isOpen ? 'unfolded' : ''].join(' ')}
      data-ready={project ? '' : undefined}
    >
      <header>
        <Mark />
        {project && (
          <div className="nowrap project-name">
            <a href="/" className="plain-link clip" title={`${project.name}\nSwitch to another project`}>
              <b>{project.name}</b>
            </a>
            <span className="soft">
              {rateLabel(project.rate)} fps · {plural(project.timelines, 'timeline')} · {plural(project.clips, 'clip')}
            </span>
          </div>
        )}
        {project && project.clips > 0 ? <Health project={project} /> : <span className="grow" />}
        <FindButton />
      </header>
      <Rail projectId={projectId} stage={stage} project={project} />
      <main className="stage" tabIndex={-1}>
        {query.error && !project ? (
          <Empty title={query.error.message}>
            <button type="button" className="linkish" onClick={() => void query.refetch()}>
              Try again
            </button>
            {' · '}
            <a href="/">Go to the list of projects</a>
          </Empty>
        ) : (
          <SheetContext.Provider value={place}>
            <StaleNote asked={askedOf(query)} />
            {children}
          </SheetContext.Provider>
        )}
      </main>
      {fold.isNarrow && asks !== null && (
        <button type="button" className="fold" aria-expanded={fold.isOpen} aria-controls="plan-sheet" onClick={fold.turn}>
          <IconChevron size={14} /> <span>Plan sheet</span>
        </button>
      )}
      <aside className="sheet" id="plan-sheet" aria-label="Plan sheet" inert={fold.isNarrow && !fold.isOpen} ref={setElement} />
      <RunStrip projectId={projectId} project={project} />
      <Around projectId={projectId} />
    </div>
  );
}

/** Where there is no room for it beside the list, the sheet is folded to its edge until it is wanted. */
function useFold(asks: string) {
  const isNarrow = useMediaQuery('(max-width: 1179px)', undefined, { getInitialValueInEffect: false }) ?? false;
  const [isOpen, setOpen] = useLocalStorage({ key: 'mill-shelf sheet open', defaultValue: false, getInitialValueInEffect: false });
  const before = useRef(asks);
  useEffect(() => {
    // What is asked for where there is room for it says nothing of where there is none.
    if (isNarrow && asks !== before.current && asks !== '') setOpen(true);
    before.current = asks;
  }, [asks, isNarrow, setOpen]);
  return { isNarrow, isOpen: isNarrow && isOpen, turn: () => setOpen(!isOpen) };
}

function Health({ project }: { project: ProjectWithChoices }) {
  const shown = LINK_STATES.filter((state) => project.states[state] > 0);
  return (
    <div className="health" aria-label="Health of the project">
      <div className="bar">
        {shown.map((state) => (
          <i key={state} style={{ flexGrow: project.states[state], background: stateColour(state) }} />
        ))}
      </div>
      <div className="legend">
        {shown.map((state) => (
          <span key={state}>
            <StateSign state={state} /> <b>{project.states[state]}</b>
          </span>
        ))}
      </div>
    </div>
  );
}

function Rail({ projectId, stage, project }: { projectId: string; stage: Stage['id']; project: ProjectWithChoices | undefined }) {
  const { data: shelves } = useShelves();
  const { data: runs } = useQuery({
    queryKey: ['runs', projectId, 'count'],
    queryFn: () => api.get(`runs?project=${projectId}&limit=1`),
  });
  const { data: crates } = useCrates(projectId);
  const open = project ? project.states.missing + project.states.unplugged + project.states.changed : 0;
  const counts: Partial<Record<Stage['id'], { text: string; warn?: boolean }>> = {
    timelines: { text: String(project?.timelines ?? '') },
    shelves: { text: String(shelves?.length ?? '') },
    relink: { text: open > 0 ? String(open) : '', warn: (project?.states.missing ?? 0) + (project?.states.changed ?? 0) > 0 },
    crates: { text: crates?.length ? String(crates.length) : '' },
    runs: { text: runs?.total ? String(runs.total) : '' },
  };
  const groups = ['before', 'work', 'after'] as const;
  return (
    <nav className="rail" aria-label="Stages">
      {groups.map((group, index) => (
        <div key={group}>
          {index > 0 && <hr />}
          {STAGES.filter((entry) => entry.group === group).map((entry) => (
            <a
              key={entry.id}
              href={stagePath(projectId, entry.id)}
              className={[entry.id === stage ? 'on' : '', counts[entry.id]?.warn ? 'warn' : ''].join(' ')}
              aria-current={entry.id === stage ? 'page' : undefined}
              title={`${entry.name}: key ${entry.key}`}
            >
              <span className="number">{group === 'work' ? entry.key : ''}</span>
              {entry.name}
              <span className="count">{counts[entry.id]?.text}</span>
            </a>
          ))}
        </div>
      ))}
    </nav>
  );
}
