import { ActionIcon, Button, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { LINK_STATES } from '../../core/project/clip';
import { rateLabel } from '../../core/time/rate';
import type { ProjectView } from '../../server/projects/views/project';
import { api } from '../shared/api';
import { shortDate } from '../shared/dates';
import { Bytes, plural } from '../shared/figures';
import { IconDots, IconPlus, IconSearch } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { tellError } from '../shared/notices';
import { askedOf } from '../shared/asked';
import { Around, FindButton, Mark } from '../shared/Frame';
import { SheetContext } from '../shared/InStage';
import { useProjects } from '../shared/questions';
import { RunStrip } from '../shared/RunStrip';
import { useAddressPlace, useAddressWord } from '../shared/use-address';
import { stagePath } from '../shared/stages';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import './projects.css';
import { NewProject } from './NewProject';
import { RemoveProject, RenameProject } from './ProjectDialogs';
import { OpenCrate } from '../crates/OpenCrate';
import { FirstStart } from './FirstStart';
import { StageHead } from '../shared/StageHead';
import { Empty } from '../shared/Empty';

/** Every project: size, last use, last safe copy. */
export function ProjectList() {
  const client = useQueryClient();
  const query = useProjects();
  const { data: projects } = query;
  const [found, setFilter] = useAddressWord('find');
  const filter = found ?? '';
  const [selected, setSelected] = useState<string | null>(null);
  const [dialog, setDialog] = useState<{ what: 'new' | 'rename' | 'remove'; project?: ProjectView } | null>(null);
  // Where a project begins with media that is copied in.
  const [withCard, setWithCard] = useState(false);
  const makeNew = (fromCard = false) => {
    setWithCard(fromCard);
    setDialog({ what: 'new' });
  };
  const [view, setView] = useAddressPlace('view');
  const [element, setElement] = useState<HTMLElement | null>(null);
  const place = useMemo(() => ({ element, setAsks: () => undefined }), [element]);
  const isOpening = view === 'open';
  const rows = (projects ?? []).filter((project) => project.name.toLowerCase().includes(filter.toLowerCase()));
  const open = (project: ProjectView) => (window.location.href = stagePath(project.id, 'overview'));
  const duplicate = (project: ProjectView) => void api.post(`projects/${project.id}/duplicate`).then(() => client.invalidateQueries(), tellError);

  const columns: Column<ProjectView>[] = [
    {
      key: 'name',
      title: 'Project',
      width: 'minmax(180px, 1.2fr)',
      value: (project) => project.name,
      cell: (project) => (
        <a href={stagePath(project.id, 'overview')} className="own-link">
          {project.name}
        </a>
      ),
    },
    {
      key: 'rate',
      title: 'Rate',
      width: '64px',
      value: (project) => project.rate.num / project.rate.den,
      group: (project) => `${rateLabel(project.rate)} fps`,
      cell: (project) => `${rateLabel(project.rate)} fps`,
    },
    { key: 'health', title: 'Health', width: '250px', cell: (project) => <HealthSigns project={project} /> },
    {
      key: 'media',
      title: 'Media',
      width: '90px',
      numeric: true,
      value: (project) => project.mediaBytes,
      cell: (project) => <Bytes value={project.mediaBytes} />,
    },
    {
      key: 'own',
      title: 'Project data',
      width: '90px',
      numeric: true,
      value: (project) => project.projectBytes,
      cell: (project) => <Bytes value={project.projectBytes} />,
    },
    { key: 'used', title: 'Last use', width: '124px', value: (project) => project.usedAt, cell: (project) => shortDate(project.usedAt) },
    {
      key: 'crate',
      title: 'Last safe copy',
      width: 'minmax(150px, 1fr)',
      value: (project) => (project.lastCrate?.isSafe ? project.lastCrate.madeAt : null),
      cell: (project) =>
        project.lastCrate?.isSafe ? (
          `${shortDate(project.lastCrate.madeAt)}, ${project.lastCrate.shelfName}`
        ) : (
          <span className="soft" title={project.lastCrate?.lacks ?? project.lastCrate?.trouble ?? undefined}>
            {project.lastCrate && !project.lastCrate.lacks ? 'none now' : 'none yet'}
          </span>
        ),
    },
    {
      key: 'menu',
      title: '',
      width: '30px',
      cell: (project) => (
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon variant="subtle" color="gray" aria-label={`More for ${project.name}`}>
              <IconDots size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => open(project)}>Open</Menu.Item>
            <Menu.Item onClick={() => setDialog({ what: 'rename', project })}>Rename</Menu.Item>
            <Menu.Item onClick={() => duplicate(project)}>Duplicate</Menu.Item>
            <Menu.Item color="red" onClick={() => setDialog({ what: 'remove', project })}>
              Remove from the list
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      ),
    },
  ];

  return (
    <div className={isOpening ? 'projects-page with-sheet' : 'projects-page'} data-ready={projects ? '' : undefined}>
      <header className="projects-top">
        <Mark />
        <FindButton />
      </header>
      <main className="stage projects-stage">
        {isOpening ? (
          <SheetContext.Provider value={place}>
            <OpenCrate
              projectId={null}
              tabs={
                <Button size="xs" variant="default" onClick={() => setView(null)}>
                  Back to projects
                </Button>
              }
            />
          </SheetContext.Provider>
        ) : (
          <>
            <StageHead
              title="Projects"
              lead={projects?.length === 0 ? 'No project yet.' : 'Where the media of each project is stored, and when it was last packed safely.'}
            >
              {projects?.length !== 0 && (
                <>
                  <TextInput
                    data-filter=""
                    size="xs"
                    w={220}
                    placeholder="Filter projects"
                    aria-label="Filter projects"
                    leftSection={<IconSearch size={14} />}
                    value={filter}
                    onChange={(event) => setFilter(event.currentTarget.value)}
                  />
                  <Button size="xs" variant="default" onClick={() => setView('open')}>
                    Open a crate
                  </Button>
                </>
              )}
              <Button size="xs" leftSection={<IconPlus size={14} />} onClick={() => makeNew()}>
                New project
              </Button>
            </StageHead>
            {projects?.length === 0 ? (
              <FirstStart onNew={makeNew} onCrate={() => setView('open')} />
            ) : (
              <VirtualTable
                label="Projects"
                rows={rows}
                columns={columns}
                asked={askedOf(query)}
                rowKey={(project) => project.id}
                selected={selected}
                onSelect={setSelected}
                onOpen={open}
                empty={<Empty title="No project has that name">Change the filter.</Empty>}
              />
            )}
          </>
        )}
      </main>
      {isOpening && <aside className="sheet" id="plan-sheet" aria-label="Plan sheet" ref={setElement} />}
      <RunStrip projectId={null} />
      <Around projectId={null} />
      <NewProject key={String(withCard)} fromCard={withCard} opened={dialog?.what === 'new'} onClose={() => setDialog(null)} />
      {dialog?.project && dialog.what === 'rename' && <RenameProject project={dialog.project} onClose={() => setDialog(null)} />}
      {dialog?.project && dialog.what === 'remove' && <RemoveProject project={dialog.project} onClose={() => setDialog(null)} />}
    </div>
  );
}

function HealthSigns({ project }: { project: ProjectView }) {
  const shown = LINK_STATES.filter((state) => project.states[state] > 0);
  if (shown.length === 0) return <span className="soft">no clips yet</span>;
  return (
    <span className="health-signs">
      {shown.map((state) => (
        <span key={state} className="sign" title={plural(project.states[state], 'clip')}>
          <StateSign state={state} bare /> {project.states[state]}
        </span>
      ))}
    </span>
  );
}
