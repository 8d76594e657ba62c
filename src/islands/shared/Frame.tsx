import { useQuery } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import type { RunSummary, ShelfView } from '../../server/api/views';
import { LINK_STATES } from '../../core/project/clip';
import { rateLabel } from '../../core/time/rate';
import type { Window } from '../../server/list-window';
import { api } from './api';
import { plural } from './figures';
import { HelpSheet } from './HelpSheet';
import { Palette, openPalette } from './Palette';
import { RunStrip } from './RunStrip';
import { STAGES, stagePath, type Stage } from './stages';
import { StateSign, stateColour } from './StateSign';
import { useNews } from './use-news';
import { useProject, type ProjectWithChoices } from './use-remembered';
import { Empty } from './Empty';

export function Mark() {
  return (
    <a className="mark" href="/" title="All projects">
      <svg width="24" height="24" viewBox="0 0 24 24" fill="none" stroke="currentColor" strokeWidth="2" aria-hidden="true">
        <path d="M2 20h20M2 11h20M5 11V4h4v7M12 11V6l4-1 1 6M6 20v-6h5v6M15 20v-5h4v5" />
      </svg>
      Mill Shelf
    </a>
  );
}

interface Props {
  readonly projectId: string;
  readonly stage: Stage['id'];
  /** The plan sheet; null where a stage has none. */
  readonly sheet: ReactNode | null;
  readonly children: ReactNode;
}

/** The frame every stage stands in. */
export function Frame({ projectId, stage, sheet, children }: Props) {
  useNews();
  const { data: project, error } = useProject(projectId);
  const [help, setHelp] = useState(false);
  useEffect(() => {
    void api.post(`projects/${projectId}/open`).catch(() => undefined);
  }, [projectId]);
  useKeys(projectId, () => setHelp(true));
  return (
    <div className={sheet === null ? 'frame no-sheet' : 'frame'} data-ready={project ? '' : undefined}>
      <header>
        <Mark />
        {project && (
          <div className="nowrap">
            <a href="/" className="plain-link" title="Switch to another project">
              <b>{project.name}</b>
            </a>{' '}
            <span className="soft">
              {rateLabel(project.rate)} fps · {plural(project.timelines, 'timeline')} · {plural(project.clips, 'clip')}
            </span>
          </div>
        )}
        {project && project.clips > 0 ? <Health project={project} /> : <span className="grow" />}
        <button type="button" className="linkish soft plain-link push nowrap" onClick={openPalette}>
          Ctrl K find anything
        </button>
      </header>
      <Rail projectId={projectId} stage={stage} project={project} />
      <main className="stage">
        {error ? (
          <Empty title={error.message}>
            <a href="/">Go to the list of projects</a>
          </Empty>
        ) : (
          children
        )}
      </main>
      <aside className="sheet" aria-label="Plan sheet">
        {sheet}
      </aside>
      <RunStrip projectId={projectId} lastCrate={project?.lastCrate ?? null} />
      <Palette projectId={projectId} />
      <HelpSheet opened={help} onClose={() => setHelp(false)} />
    </div>
  );
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
  const { data: shelves } = useQuery({ queryKey: ['shelves'], queryFn: () => api.get<ShelfView[]>('shelves') });
  const { data: runs } = useQuery({
    queryKey: ['runs', projectId, 'count'],
    queryFn: () => api.get<Window<RunSummary>>(`runs?project=${projectId}&limit=1`),
  });
  const { data: crates } = useQuery({ queryKey: ['crates', projectId], queryFn: () => api.get<unknown[]>(`projects/${projectId}/crates`) });
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

/** Keys that work on every stage: stages, filter, plan button, help. */
function useKeys(projectId: string, openHelp: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest('input, textarea, select, [contenteditable=true], [role=dialog], [role=listbox]') !== null;
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      const stage = STAGES.find((entry) => entry.key === event.key);
      if (stage) window.location.href = stagePath(projectId, stage.id);
      else if (event.key === '?') openHelp();
      else if (event.key === '/') focus('[data-filter] input, input[data-filter]', event);
      else if (event.key === 'l') focus('[data-list]', event);
      else if (event.key === 'p') focus('[data-run-plan]', event);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [projectId, openHelp]);
}

function focus(selector: string, event: KeyboardEvent): void {
  const element = document.querySelector<HTMLElement>(selector);
  if (!element) return;
  event.preventDefault();
  element.focus();
}
