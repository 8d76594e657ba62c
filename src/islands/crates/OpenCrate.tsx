import { Button, TextInput } from '@mantine/core';
import { useMemo, useState, type ReactNode } from 'react';
import type { Place } from '../../core/media/item';
import type { RestoreDetail } from '../../core/planning/restore/restore';
import { allOf, askedOf } from '../shared/asked';
import { Bytes, plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { IconCrate } from '../shared/icons';
import { PathText } from '../shared/PathText';
import { ShelfFolders } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { useRun } from '../shared/Receipt';
import { RegisterShelf } from '../shared/RegisterShelf';
import { stagePath } from '../shared/stages';
import { restoreForm } from '../../core/planning/restore/settings';
import { usePlan } from '../shared/use-plan';
import { useShelves } from '../shared/questions';
import { useAddressPlace } from '../shared/use-address';
import { useShelfNames } from '../shared/use-shelf-names';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { StageHead } from '../shared/StageHead';
import { Empty } from '../shared/Empty';

type File = RestoreDetail['files'][number];

const COLUMNS: readonly Column<File>[] = [
  {
    key: 'path',
    title: 'Listed in the manifest',
    width: 'minmax(200px, 1fr)',
    value: (file) => file.path,
    cell: (file) => <PathText path={file.path} copy={false} />,
  },
  {
    key: 'bytes',
    title: 'Size',
    width: '110px',
    value: (file) => file.bytes,
    numeric: true,
    cell: (file) => (file.bytes === null ? <span className="bad">✕ not there</span> : <Bytes value={file.bytes} />),
  },
];

/** A crate becomes a project again, at whatever place it stands now. `projectId`: where it is opened from; null from the list of projects. */
export function OpenCrate({ projectId, tabs }: { projectId: string | null; tabs: ReactNode }) {
  const query = useShelves();
  const { data: shelves = [] } = query;
  const names = useShelfNames();
  const [registering, setRegistering] = useState(false);
  const [browsing, setBrowsing] = useState<Place | null>(null);
  const [shelfId, setShelf] = useAddressPlace('shelf');
  const [path, setPath] = useAddressPlace('folder');
  const crate = useMemo((): Place | null => (shelfId === null ? null : { shelfId, path: path ?? '' }), [shelfId, path]);
  const choose = (place: Place) => {
    setShelf(place.shelfId);
    setPath(place.path === '' ? null : place.path);
    setProjectName('');
  };
  const [projectName, setProjectName] = useState('');
  const [selected, setSelected] = useState<string | null>(null);
  const settings = useMemo(() => (crate ? { crate, projectName: projectName.trim() || null } : null), [crate, projectName]);
  const state = usePlan('restore', projectId, settings, restoreForm);
  return (
    <InStage
      sheet={
        <PlanSheet state={state} idle="Choose the folder of a crate: the one that holds bagit.txt." runLabel={() => 'Check and open the crate'}>
          {crate && (
            <TextInput
              size="xs"
              label="Name of the new project"
              placeholder={state.plan?.lines[0]?.text ?? ''}
              value={projectName}
              onChange={(event) => setProjectName(event.currentTarget.value)}
              maxLength={200}
            />
          )}
        </PlanSheet>
      }
    >
      <StageHead title="Open a crate" lead="Every file is checked; then it becomes a project of its own.">
        {tabs}
      </StageHead>
      <div className="controls">
        {shelves
          .filter((shelf) => shelf.attached)
          .map((shelf) => (
            <Button key={shelf.id} size="xs" variant="default" onClick={() => setBrowsing({ shelfId: shelf.id, path: '' })}>
              {shelf.name}
            </Button>
          ))}
        {crate && <PathText shelf={names(crate.shelfId)} path={crate.path || '(the whole shelf)'} />}
      </div>
      {state.receiptId !== null && (
        <Opened runId={state.receiptId} files={(state.plan?.detail.files ?? []).filter(({ bytes }) => bytes !== null).length} />
      )}
      <VirtualTable
        label="Files of the crate"
        asked={crate ? allOf(askedOf(query), state.asked) : askedOf(query)}
        rows={state.plan?.detail.files ?? []}
        columns={COLUMNS}
        rowKey={(file) => file.path}
        selected={selected}
        onSelect={setSelected}
        empty={
          <Empty icon={<IconCrate size={28} />} title="No crate chosen">
            Choose the shelf that it is stored on, then its folder. If its drive is not in the list, add it.
            <div>
              <Button variant="default" onClick={() => setRegistering(true)}>
                Add a drive or folder
              </Button>
            </div>
          </Empty>
        }
      />
      <RegisterShelf opened={registering} onClose={() => setRegistering(false)} onDone={(id) => setBrowsing({ shelfId: id, path: '' })} />
      {browsing && <ShelfFolders key={browsing.shelfId} opened onClose={() => setBrowsing(null)} place={browsing} onChoose={choose} crates />}
    </InStage>
  );
}

function Opened({ runId, files }: { runId: number; files: number }) {
  const { run } = useRun(runId);
  if (run?.state !== 'done' || !run.projectId) return null;
  return (
    <div className="note good">
      <p>
        {files === 1 ? 'The file is' : `All ${plural(files, 'file')} are`} as the manifest says.{' '}
        <a href={stagePath(run.projectId, 'overview')} className="own-link">
          Go to the new project
        </a>
      </p>
    </div>
  );
}
