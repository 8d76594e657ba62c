import type { ReactNode } from 'react';
import { lackWords } from '../../core/planning/crate/crate-words';
import { askedOf } from '../shared/asked';
import { fullDate, shortDate } from '../shared/dates';
import { Bytes } from '../shared/figures';
import { Frame } from '../shared/Frame';
import { Gone } from '../shared/Gone';
import { useCrates, type ListedCrate } from '../shared/questions';
import { useAddressPlace } from '../shared/use-address';
import { PathText } from '../shared/PathText';
import { Receipt } from '../shared/Receipt';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { StageHead } from '../shared/StageHead';
import { Empty } from '../shared/Empty';

type Crate = ListedCrate;

const COLUMNS: readonly Column<Crate>[] = [
  { key: 'state', title: '', width: '16px', cell: (crate) => <StateSign state={crate.attached ? 'present' : 'unplugged'} bare /> },
  {
    key: 'name',
    title: 'Crate',
    width: 'minmax(90px, 0.9fr)',
    value: (crate) => crate.name,
    cell: (crate) => <b title={crate.name}>{crate.name}</b>,
  },
  {
    key: 'place',
    title: 'Where',
    width: 'minmax(150px, 1.8fr)',
    value: (crate) => `${crate.shelfName}/${crate.place.path}`,
    group: (crate) => crate.shelfName,
    cell: (crate) => <PathText shelf={crate.shelfName} path={crate.place.path} />,
  },
  {
    key: 'clips',
    title: 'Clips',
    width: 'minmax(120px, 1.2fr)',
    cell: (crate) => {
      const lacks = lackWords(crate.holds);
      return lacks ? <span title={lacks}>{lacks}</span> : <span className="soft">{crate.holds ? `all ${crate.holds.clips}` : '–'}</span>;
    },
  },
  { key: 'files', title: 'Files', width: '44px', numeric: true, value: (crate) => crate.files, cell: (crate) => crate.files },
  { key: 'bytes', title: 'Size', width: '76px', numeric: true, value: (crate) => crate.bytes, cell: (crate) => <Bytes value={crate.bytes} /> },
  {
    key: 'made',
    title: 'Made',
    width: '92px',
    value: (crate) => crate.madeAt,
    cell: (crate) => <span title={fullDate(crate.madeAt)}>{shortDate(crate.madeAt)}</span>,
  },
];

export function MadeCrates({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const query = useCrates(projectId);
  const { data: crates } = query;
  const [selected, setSelected] = useAddressPlace('crate');
  const crate = crates?.find((entry) => entry.id === selected);
  return (
    <Frame projectId={projectId} stage="crates" sheet={crate?.runId ? <Receipt key={crate.runId} runId={crate.runId} /> : null} asks={selected ?? ''}>
      <StageHead title="Crates made" lead="Choose one to read its receipt.">
        {tabs}
      </StageHead>
      {crates && selected !== null && !crate && <Gone what="The crate" onLeave={() => setSelected(null)} />}
      <VirtualTable
        label="Crates made"
        rows={crates ?? []}
        asked={askedOf(query)}
        columns={COLUMNS}
        rowKey={(entry) => entry.id}
        selected={selected}
        onSelect={setSelected}
        empty={<Empty title="No crate yet">Make the first one: until then there is no safe copy of this project.</Empty>}
      />
    </Frame>
  );
}
