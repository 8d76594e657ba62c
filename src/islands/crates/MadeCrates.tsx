import type { ReactNode } from 'react';
import { folderOf } from '../../core/media/item';
import type { LinkState } from '../../core/project/clip';
import type { CrateState } from '../../core/planning/package/crate-standing';
import { askedOf } from '../shared/asked';
import { fullDate, shortDate } from '../shared/dates';
import { Bytes } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { Gone } from '../shared/Gone';
import type { CrateView } from '../../server/projects/views/crate';
import { useCrates } from '../shared/questions';
import { useAddressPlace } from '../shared/use-address';
import { StateSign } from '../shared/StateSign';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { StageHead } from '../shared/StageHead';
import { CompareCrates } from './CompareCrates';
import { AS_NOW, CrateSheet } from './CrateSheet';
import { Empty } from '../shared/Empty';

type Crate = CrateView;

/** As link states are drawn: what is not compared since counts as not known. */
const SIGNS: Record<CrateState, LinkState> = { whole: 'present', unread: 'set-aside', changed: 'changed', gone: 'missing' };

function stateWords({ standing, attached }: Crate): string {
  const words: Record<CrateState, string> = {
    whole: 'whole',
    unread: standing.files === 0 ? 'not checked' : 'to be checked',
    changed: 'changed',
    gone: 'gone',
  };
  return `${words[standing.state]}${attached ? '' : ', unplugged'}`;
}

const COLUMNS: readonly Column<Crate>[] = [
  {
    key: 'name',
    title: 'Crate',
    width: 'minmax(184px, 1.6fr)',
    value: (crate) => crate.name,
    cell: (crate) => <b title={crate.name}>{crate.name}</b>,
  },
  {
    key: 'place',
    title: 'Stored on',
    width: 'minmax(86px, 0.7fr)',
    value: (crate) => `${crate.shelfName}/${crate.standing.place.path}`,
    group: (crate) => crate.shelfName,
    cell: (crate) => (
      <span className="clip" title={`${crate.shelfName} / ${crate.standing.place.path}`}>
        {[crate.shelfName, ...folderOf(crate.standing.place.path).split('/')].filter((name) => name !== '').join(' / ')}
      </span>
    ),
  },
  {
    key: 'state',
    title: 'State',
    width: 'minmax(92px, 0.6fr)',
    value: stateWords,
    group: stateWords,
    cell: (crate) => (
      <span className="sign" title={crate.trouble ?? undefined}>
        <StateSign state={crate.attached ? SIGNS[crate.standing.state] : 'unplugged'} bare /> {stateWords(crate)}
      </span>
    ),
  },
  {
    key: 'clips',
    title: 'Clips',
    width: 'minmax(70px, 0.7fr)',
    cell: (crate) => {
      const { lacks } = crate;
      return lacks ? <span title={lacks}>{lacks}</span> : <span className="soft">{crate.holds ? `all ${crate.holds.clips}` : '–'}</span>;
    },
  },
  {
    key: 'files',
    title: 'Files',
    width: '40px',
    numeric: true,
    value: (crate) => crate.files,
    cell: (crate) => crate.files,
  },
  { key: 'bytes', title: 'Size', width: '76px', numeric: true, value: (crate) => crate.bytes, cell: (crate) => <Bytes value={crate.bytes} /> },
  {
    key: 'checked',
    title: 'Checked',
    width: '86px',
    value: (crate) => crate.checkedAt,
    cell: (crate) =>
      crate.checkedAt ? <span title={fullDate(crate.checkedAt)}>{shortDate(crate.checkedAt)}</span> : <span className="soft">never</span>,
  },
];

export function MadeCrates({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const query = useCrates(projectId);
  const { data: crates } = query;
  const [selected, setSelected] = useAddressPlace('crate');
  const [other, setOther] = useAddressPlace('with');
  const crate = crates?.find((entry) => entry.id === selected);
  const compared = crates?.find((entry) => entry.id === other);
  if (crate && other === AS_NOW) return <CompareCrates projectId={projectId} before={crate} after={null} tabs={tabs} onBack={() => setOther(null)} />;
  if (crate && compared && compared !== crate) {
    // The earlier one first, whichever was chosen first.
    const [before, after] = compared.madeAt < crate.madeAt ? [compared, crate] : [crate, compared];
    return <CompareCrates projectId={projectId} before={before} after={after} tabs={tabs} onBack={() => setOther(null)} />;
  }
  return (
    <InStage
      sheet={
        crate ? (
          <CrateSheet
            key={crate.id}
            projectId={projectId}
            crate={crate}
            others={(crates ?? []).filter((own) => own !== crate)}
            onCompare={setOther}
          />
        ) : null
      }
      asks={selected ?? ''}
    >
      <StageHead title="Crates made" lead="Each as it stands today. Choose one to check it.">
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
    </InStage>
  );
}
