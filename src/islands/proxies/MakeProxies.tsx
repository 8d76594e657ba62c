import { useEffect, useMemo, type ReactNode } from 'react';
import type { ProxyRow } from '../../core/planning/proxies/proxies';
import { PROXIES_AT_FIRST, proxyForm, type ProxySettings } from '../../core/planning/proxies/settings';
import type { TakeAlongSettings } from '../../core/planning/take-along/settings';
import { samePlace } from '../../core/media/item';
import { atHome, rootOf, type Whereto } from '../../core/rendition/homes';
import { presetOf } from '../../core/rendition/presets';
import { READ_AT_FIRST, RENDITION_KINDS, sameOrder, type RenditionKind } from '../../core/rendition/read-order';
import type { PlanView } from '../../server/kinds/plan-views';
import { allRows } from '../shared/all-rows';
import { Empty } from '../shared/Empty';
import { plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { tell, tellError } from '../shared/notices';
import { useProject } from '../shared/questions';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { alongAtFirst } from './along-at-first';
import { ProxySheet } from './ProxySheet';
import { orderOfColumns, proxyColumns } from './proxy-columns';
import { RenditionStrip } from './RenditionStrip';
import { WhatIf } from './WhatIf';
import { ProxiesView } from './ProxiesView';

const GROUPS: readonly { readonly value: string; readonly label: string }[] = [
  { value: '', label: 'All clips' },
  { value: 'made', label: 'Get one now' },
  { value: 'lacking', label: 'Lacking a proxy' },
  { value: 'older', label: 'Older than its source' },
  { value: 'misfit', label: 'Does not fit its source' },
  { value: 'offline', label: 'Would be offline' },
  { value: 'elsewhere', label: 'Stands elsewhere' },
  { value: 'burned', label: 'With burn-in' },
  { value: 'only', label: 'Only copy there is' },
];

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  /** To where things are taken along. */
  readonly onAlong: () => void;
}

/** What has a light copy, who made it, and what is made now? */
export function MakeProxies({ projectId, tabs, onAlong }: Props) {
  const [settings, change] = useRemembered<ProxySettings>(projectId, 'proxies', () => PROXIES_AT_FIRST);
  const { data: project } = useProject(projectId);
  const home = settings && project?.homes[presetOf(settings.presetId).for];
  const state = usePlan('proxies', projectId, settings, proxyForm, settings && atHome(settings, home ?? undefined));
  const [along, changeAlong] = useRemembered<TakeAlongSettings>(projectId, 'take-along', alongAtFirst);
  const bring = async (kind: RenditionKind, where: Whereto) => {
    if (!along) return;
    const there = await allRows<ProxyRow>({ projectId, kind: 'proxies', settings: state.madeWith, group: 'elsewhere' });
    const rows = Object.fromEntries(RENDITION_KINDS.map((own) => [own, { ...along.rows[own], isTaken: own === kind }])) as unknown as TakeAlongSettings['rows']; // prettier-ignore
    changeAlong({ scope: { of: 'clips', clipIds: there.map(({ clipId }) => clipId) }, trip: null, asHome: true, rows: { ...rows, [kind]: { isTaken: true, destination: where.destination, folderName: where.folderName } } }); // prettier-ignore
    onAlong();
  };
  // What has become the home is no choice of its own any more: should the home move, it is followed.
  const isHome = settings?.destination != null && samePlace(rootOf(settings), home ?? null);
  useEffect(() => {
    if (isHome) change({ destination: null });
  }, [isHome, change]);
  const shelfName = useShelfNames();
  const own = state.plan?.detail.order;
  // An order that has become the project's is tried out no more.
  const tries = settings !== null && (settings.leave.length > 0 || (settings.order !== null && !(own && sameOrder(settings.order, own))));
  const readOrder = settings?.order ?? state.plan?.detail.order ?? READ_AT_FIRST;
  const orderKey = JSON.stringify(readOrder);
  const columns = useMemo(() => proxyColumns(readOrder, tries), [orderKey, tries]);
  const columnOrder = useMemo(
    () => ({
      keys: columns.map(({ key }) => key),
      onOrder: (keys: readonly string[]) => {
        const next = orderOfColumns(keys);
        if (next) change({ order: own && sameOrder(next, own) ? null : next });
        else tell('Something has to be read', 'At least one rendition stands before the line.');
      },
    }),
    [columns, own, change],
  );
  return (
    <ProxiesView
      title="Proxies and mezzanines"
      lead="Light copies, frame for frame."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={
        settings && (
          <ProxySheet
            projectId={projectId}
            settings={settings}
            onChange={change}
            state={state}
            onBring={(kind, where) => void bring(kind, where).catch(tellError)}
          />
        )
      }
    >
      {settings && (
        <div className="controls scope what-if">
          <ClipScopePick projectId={projectId} scope={settings.scope} onChange={(scope) => change({ scope })} />
          <Choice
            label="Which of them"
            width={196}
            options={[
              ['lacking', 'Where none fits yet'],
              ['all', 'Anew for all of them'],
            ]}
            value={settings.onlyLacking ? 'lacking' : 'all'}
            onChange={(value) => change({ onlyLacking: value === 'lacking' })}
          />
          <WhatIf projectId={projectId} settings={settings} onChange={change} detail={state.plan?.detail ?? null} />
        </div>
      )}
      <PlanList<ProxyRow>
        projectId={projectId}
        kind="proxies"
        state={state}
        label="Clips and their renditions"
        sort="name"
        columns={columns}
        order={columnOrder}
        rowKey={(row) => row.clipId}
        noun="clip"
        find="clip or file"
        groups={GROUPS}
        empty={<Empty title="No clips yet">Bring in a timeline, or make clips of what is on the shelves.</Empty>}
      >
        {(row) => <RenditionStrip row={row} shelfName={shelfName} />}
      </PlanList>
    </ProxiesView>
  );
}

function runWords({ stepCounts, blocked }: PlanView): string {
  return blocked !== null ? 'Run this plan' : `Make ${plural(stepCounts.encode ?? 0, 'file')}`;
}
