import { Button, Checkbox } from '@mantine/core';
import { useMemo, type ReactNode } from 'react';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { takeAlongForm, type TakeAlongSettings } from '../../core/planning/take-along/settings';
import type { TakeAlongDetail, TakeAlongRow } from '../../core/planning/take-along/take-along';
import type { PlanView } from '../../server/kinds/plan-views';
import { Ask } from '../shared/Ask';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { PathText } from '../shared/PathText';
import { SheetField } from '../shared/SheetField';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { alongAtFirst } from './along-at-first';
import { TakeKinds } from './TakeKinds';
import { TRIP_AT_FIRST, TripPanel } from './TripPanel';
import { ProxiesView } from './ProxiesView';

const GROUPS: readonly { readonly value: string; readonly label: string }[] = [
  { value: '', label: 'All that is asked for' },
  { value: 'copied', label: 'Copied' },
  { value: 'there', label: 'There already' },
  { value: 'lighter', label: 'Lighter than their best' },
  { value: 'no-room', label: 'No room for them' },
  { value: 'lacking', label: 'Lacking' },
  { value: 'cannot', label: 'Cannot be read now' },
];

const FATES: Readonly<Record<TakeAlongRow['fate'], string>> = {
  copied: 'copied',
  'there already': 'there already',
  lacks: 'it has none',
  cannot: '',
  'no room': 'no room',
};

const WORRIES: readonly TakeAlongRow['fate'][] = ['lacks', 'cannot', 'no room'];

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  /** To where the lacking ones are made. */
  readonly onMake: () => void;
}

/** What goes along on a drive, kind by kind, and is read from there afterwards. */
export function TakeAlong({ projectId, tabs, onMake }: Props) {
  const [settings, change] = useRemembered<TakeAlongSettings>(projectId, 'take-along', alongAtFirst);
  const [, changeProxies] = useRemembered<Partial<ProxySettings>>(projectId, 'proxies', () => ({}));
  const state = usePlan('take-along', projectId, settings, takeAlongForm);
  const shelfName = useShelfNames();
  const columns = useMemo(() => takeColumns(shelfName), [shelfName]);
  const { detail } = state.plan ?? {};
  const lacking = settings?.trip || settings?.rows.proxy.isTaken ? (detail?.lackingProxies.clips ?? 0) : 0;
  return (
    <ProxiesView
      title="Take along"
      lead="Copied to a drive, and read from there."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={
        <>
          <Ask plan={state.plan} code="no-destination" />
          <Ask plan={state.plan} code="no-folder-name" />
          {settings && lacking > 0 && (
            <div className="controls">
              <Button
                size="xs"
                variant="default"
                onClick={() => {
                  changeProxies({ scope: settings.scope, presetId: 'pocket', onlyLacking: true });
                  onMake();
                }}
              >
                Make what lacks a proxy first
              </Button>
            </div>
          )}
          {settings && (
            <SheetField label="Folders in it">
              <Choice
                label="Folders in it"
                options={[
                  ['sources', 'As where it comes from'],
                  ['reel', 'A folder for each reel'],
                  ['clip', 'A folder for each clip'],
                ]}
                value={settings.layout}
                onChange={(layout) => change({ layout })}
              />
            </SheetField>
          )}
          {settings && !settings.trip && (
            <Checkbox
              size="xs"
              label="They are at home there from then on"
              checked={settings.asHome}
              onChange={(event) => change({ asHome: event.currentTarget.checked })}
            />
          )}
        </>
      }
    >
      {settings && (
        <>
          <div className="controls scope what-if">
            <ClipScopePick projectId={projectId} scope={settings.scope} onChange={(scope) => change({ scope })} />
            <Choice
              label="How much goes along"
              width={196}
              options={[
                ['kinds', 'What is ticked, whole'],
                ['trip', 'The best that fits'],
              ]}
              value={settings.trip ? 'trip' : 'kinds'}
              onChange={(how) => change({ trip: how === 'trip' ? TRIP_AT_FIRST : null })}
            />
          </div>
          {settings.trip ? (
            <TripPanel
              trip={settings.trip}
              sum={detail?.trip ?? null}
              invalid={state.invalid}
              onChange={(part) => change({ trip: { ...settings.trip!, ...part } })}
            />
          ) : (
            <TakeKinds
              projectId={projectId}
              rows={settings.rows}
              sums={detail?.kinds ?? null}
              shelfName={shelfName}
              onChange={(rows) => change({ rows })}
            />
          )}
        </>
      )}
      <PlanList<TakeAlongRow>
        projectId={projectId}
        kind="take-along"
        state={state}
        label="What is taken along, clip by clip"
        sort="name"
        columns={columns}
        rowKey={(row) => row.key}
        noun="clip"
        find="clip or file"
        groups={GROUPS}
        empty={<Empty title="Nothing to take along">Bring in a timeline, or make clips of what is on the shelves; then tick what goes along.</Empty>}
      />
    </ProxiesView>
  );
}

function takeColumns(shelfName: (id: string) => string): readonly Column<TakeAlongRow>[] {
  return [
    { key: 'name', title: 'Clip', width: 'minmax(110px, 0.8fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    { key: 'kind', title: 'What', width: '96px', unsorted: true, cell: ({ kind }) => kind },
    {
      key: 'place',
      title: 'Stands now',
      width: 'minmax(160px, 1.6fr)',
      unsorted: true,
      cell: ({ place }) => (place ? <PathText path={place.path} shelf={shelfName(place.shelfId)} copy={false} /> : <span className="soft">–</span>),
    },
    { key: 'size', title: 'Size', width: '84px', cell: ({ bytes }) => (bytes > 0 ? <Bytes value={bytes} /> : <span className="soft">–</span>) },
    {
      key: 'fate',
      title: 'Then',
      width: 'minmax(110px, 0.8fr)',
      unsorted: true,
      cell: ({ fate, why, insteadOf }) => (
        <span className={WORRIES.includes(fate) ? 'rendition-mark' : fate === 'copied' ? undefined : 'soft'}>
          {insteadOf ? `not its ${insteadOf}` : FATES[fate] || why}
        </span>
      ),
    },
  ];
}

function runWords({ blocked, stepCounts }: PlanView<TakeAlongDetail>): string {
  return blocked !== null ? 'Run this plan' : `Copy ${plural((stepCounts.copy ?? 0) + (stepCounts.frames ?? 0), 'file')}`;
}
