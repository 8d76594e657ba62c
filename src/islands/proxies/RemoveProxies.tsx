import { Checkbox } from '@mantine/core';
import { useMemo, useState, type ReactNode } from 'react';
import type { RemovalDetail, RemovalRow } from '../../core/planning/remove-proxies/remove-proxies';
import { removeProxiesForm, type RemoveProxiesSettings } from '../../core/planning/remove-proxies/settings';
import type { PlanView } from '../../server/kinds/plan-views';
import { Empty } from '../shared/Empty';
import { fewNames } from '../../core/words/figures';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { StateSign } from '../shared/StateSign';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { ProxiesView } from './ProxiesView';

type Kept = Omit<RemoveProxiesSettings, 'confirmed' | 'elsewhere'>;
const initial = (): Kept => ({ scope: { of: 'project' }, rendition: 'proxy', which: 'spare' });

/** Which proxies go, how much room that makes, and what would be offline. */
export function RemoveProxies({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [kept, change] = useRemembered<Kept>(projectId, 'remove-proxies', initial);
  // A yes is for what was read: for nothing that is chosen later, and for no clip that joins meanwhile.
  const [yes, setYes] = useState('');
  const [toRead, setToRead] = useState('');
  // Never remembered: it deletes what nobody here can make again.
  const [isElsewhereToo, setElsewhereToo] = useState(false);
  const confirmed = kept !== null && yes !== '' && yes === toRead;
  const settings = useMemo(
    (): RemoveProxiesSettings | null => kept && { ...kept, confirmed, ...(isElsewhereToo ? { elsewhere: true } : {}) },
    [kept, confirmed, isElsewhereToo],
  );
  const state = usePlan('remove-proxies', projectId, settings, removeProxiesForm, kept);
  const shelfName = useShelfNames();
  const columns = useMemo(() => removalColumns(shelfName), [shelfName]);
  const { goOffline = 0, lost = [], elsewhere = 0 } = state.plan?.detail ?? {};
  const reads = `${JSON.stringify(kept)} ${isElsewhereToo} ${goOffline} ${JSON.stringify(lost)}`;
  if (state.plan && toRead !== reads) setToRead(reads);
  return (
    <ProxiesView
      title="Remove proxies"
      lead="Room again; sources are never touched."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={
        <>
          {elsewhere > 0 && (
            <Checkbox
              label={`Delete files made elsewhere too (${elsewhere})`}
              checked={isElsewhereToo}
              onChange={(event) => setElsewhereToo(event.currentTarget.checked)}
            />
          )}
          {goOffline + lost.length > 0 && (
            <Checkbox
              label={
                lost.length > 0
                  ? `Delete the last file of ${fewNames(lost, 5)}`
                  : `${plural(goOffline, 'clip goes', 'clips go')} offline. Remove them all the same`
              }
              checked={confirmed}
              onChange={(event) => setYes(event.currentTarget.checked ? reads : '')}
            />
          )}
        </>
      }
    >
      {kept && (
        <div className="controls scope what-if">
          <Choice
            label="What is removed"
            width={140}
            options={[
              ['proxy', 'Proxies'],
              ['mezzanine', 'Mezzanines'],
            ]}
            value={kept.rendition}
            onChange={(rendition) => change({ rendition })}
          />
          <ClipScopePick projectId={projectId} scope={kept.scope} onChange={(scope) => change({ scope })} />
          <Choice
            label="Which of them"
            width={250}
            options={[
              ['spare', 'Whose source can be read'],
              ['unfit', 'Older, not fitting, or burned in'],
              ['all', 'All of them'],
            ]}
            value={kept.which}
            onChange={(which) => change({ which })}
          />
        </div>
      )}
      <PlanList<RemovalRow>
        projectId={projectId}
        kind="remove-proxies"
        state={state}
        label="What is removed"
        sort="name"
        columns={columns}
        rowKey={(row) => row.renditionId}
        noun="clip"
        find="clip or file"
        groups={null}
        empty={<Empty title="Nothing to remove">No such rendition is linked to what is chosen.</Empty>}
      />
    </ProxiesView>
  );
}

const FATES: Readonly<Record<RemovalRow['fate'], string>> = { removed: 'file and link go', unlinked: 'link goes', stays: 'stays' };

function removalColumns(shelfName: (id: string) => string): readonly Column<RemovalRow>[] {
  return [
    { key: 'name', title: 'Clip', width: 'minmax(96px, 0.8fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    {
      key: 'shelf',
      title: 'Shelf',
      width: 'minmax(72px, 0.6fr)',
      unsorted: true,
      cell: ({ place }) => <span className="soft">{place ? shelfName(place.shelfId) : ''}</span>,
    },
    {
      key: 'file',
      title: 'File',
      width: 'minmax(120px, 1fr)',
      unsorted: true,
      cell: ({ place }) => (
        <span className={place ? 'mono' : 'soft'} title={place?.path}>
          {place?.path.split('/').at(-1) ?? 'no file is known'}
        </span>
      ),
    },
    { key: 'size', title: 'Size', width: '76px', numeric: true, cell: ({ bytes }) => <Bytes value={bytes} /> },
    {
      key: 'fate',
      title: 'Now',
      width: 'minmax(110px, 0.8fr)',
      unsorted: true,
      cell: ({ fate, why }) => (
        <span className={fate === 'stays' ? 'rendition-mark' : fate === 'removed' ? undefined : 'soft'} title={why}>
          {why === '' ? FATES[fate] : why}
        </span>
      ),
    },
    { key: 'then', title: 'Then', width: '94px', unsorted: true, cell: ({ then }) => <StateSign state={then} /> },
  ];
}

function runWords({ blocked, stepCounts }: PlanView<RemovalDetail>): string {
  return blocked !== null ? 'Run this plan' : `Remove ${plural(stepCounts.remove ?? 0, 'file')}`;
}
