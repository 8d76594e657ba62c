import { Checkbox } from '@mantine/core';
import { useMemo, type ReactNode } from 'react';
import type { FoundDetail, FoundRow } from '../../core/planning/link-proxies/link-proxies';
import { linkProxiesForm, type LinkProxiesSettings } from '../../core/planning/link-proxies/settings';
import type { PlanView } from '../../server/kinds/plan-views';
import { Ask } from '../shared/Ask';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { PathText } from '../shared/PathText';
import { PlacePicker } from '../shared/PlacePicker';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan, type PlanState } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { NameRules } from './NameRules';
import { ProxiesView } from './ProxiesView';

const initial = (): LinkProxiesSettings => ({
  scope: { of: 'project' },
  rendition: 'proxy',
  place: null,
  endings: '_proxy, -proxy, .proxy',
  inFolders: '',
  burnIn: false,
  choices: {},
});

const GROUPS: readonly { readonly value: string; readonly label: string }[] = [
  { value: '', label: 'All clips' },
  { value: 'linked', label: 'Linked now' },
  { value: 'choose', label: 'To be chosen' },
  { value: 'unfit', label: 'Found, but do not fit' },
  { value: 'none', label: 'Nothing found' },
];

/** Proxies, mezzanines and finished pictures that were made elsewhere: found by name, proven, and linked. */
export function FoundProxies({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [settings, change] = useRemembered<LinkProxiesSettings>(projectId, 'link-proxies', initial);
  const state = usePlan('link-proxies', projectId, settings, linkProxiesForm);
  const shelfName = useShelfNames();
  const columns = useMemo(() => foundColumns(shelfName), [shelfName]);
  return (
    <ProxiesView
      title="Made elsewhere"
      lead="Found by name, proven by pictures."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={settings && <FoundSheet settings={settings} onChange={change} state={state} />}
    >
      {settings && (
        <div className="controls scope what-if">
          <Choice
            label="What they are"
            width={160}
            options={[
              ['proxy', 'Proxies'],
              ['mezzanine', 'Mezzanines'],
              ['finished', 'Finished pictures'],
            ]}
            value={settings.rendition}
            onChange={(rendition) => change({ rendition, choices: {} })}
          />
          <ClipScopePick projectId={projectId} scope={settings.scope} onChange={(scope) => change({ scope })} />
          <PlacePicker label="Where they lie" value={settings.place} onChange={(place) => change({ place, choices: {} })} />
        </div>
      )}
      <PlanList<FoundRow>
        projectId={projectId}
        kind="link-proxies"
        state={state}
        label="Clips and what was found"
        sort="name"
        columns={columns}
        rowKey={(row) => row.clipId}
        noun="clip"
        find="clip or file"
        groups={GROUPS}
        empty={<Empty title="No clips yet">Bring in a timeline, or make clips of what is on the shelves.</Empty>}
      >
        {(row) =>
          settings && row.candidates.length > 0 ? (
            <Candidates row={row} shelfName={shelfName} onChoose={(itemId) => change({ choices: { ...settings.choices, [row.clipId]: itemId } })} />
          ) : null
        }
      </PlanList>
    </ProxiesView>
  );
}

interface SheetProps {
  readonly settings: LinkProxiesSettings;
  readonly onChange: (change: Partial<LinkProxiesSettings>) => void;
  readonly state: PlanState<FoundDetail>;
}

/** By which names they are known. */
function FoundSheet({ settings, onChange, state }: SheetProps) {
  return (
    <>
      <Ask plan={state.plan} code="no-folder" />
      <NameRules
        label="How they are called"
        as="The name of their source, or that with one of these endings"
        rules={settings}
        invalid={state.invalid}
        onChange={onChange}
      />
      <Checkbox
        size="xs"
        label="Letters are burned into them"
        checked={settings.burnIn}
        onChange={(event) => onChange({ burnIn: event.currentTarget.checked })}
      />
    </>
  );
}

/** All files that are called so, with what fits and what does not; one that fits can be chosen, or none. */
function Candidates({ row, shelfName, onChoose }: { row: FoundRow; shelfName: (id: string) => string; onChoose: (itemId: string | null) => void }) {
  return (
    <section className="panel rendition-strip" aria-label={`Found for ${row.name}`}>
      {row.candidates.map(({ itemId, place, bytes, height, misfits }) => (
        <div key={itemId} className="line found">
          <Checkbox
            size="xs"
            aria-label={`Link ${place.path}`}
            disabled={misfits.length > 0 || row.fate === 'has one'}
            checked={row.itemId === itemId}
            onChange={(event) => onChoose(event.currentTarget.checked ? itemId : null)}
          />
          <PathText path={place.path} shelf={shelfName(place.shelfId)} />
          <span className={misfits.length > 0 ? 'rendition-mark' : 'soft'}>{misfits.length > 0 ? misfits.join(', ') : `${height} lines, fits`}</span>
          <Bytes value={bytes} />
        </div>
      ))}
    </section>
  );
}

function foundColumns(shelfName: (id: string) => string): readonly Column<FoundRow>[] {
  return [
    { key: 'name', title: 'Clip', width: 'minmax(110px, 0.8fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    {
      key: 'found',
      title: 'Found',
      width: 'minmax(160px, 1.6fr)',
      unsorted: true,
      cell: ({ candidates, itemId }) => {
        const { place } = candidates.find((own) => own.itemId === itemId) ?? candidates[0] ?? {};
        if (!place) return <span className="soft">–</span>;
        return (
          <span className={itemId === null ? 'mono soft' : 'mono'} title={`${shelfName(place.shelfId)}/${place.path}`}>
            {place.path.split('/').at(-1)}
            {candidates.length > 1 && ` and ${candidates.length - 1} more`}
          </span>
        );
      },
    },
    {
      key: 'fate',
      title: 'Now',
      width: 'minmax(150px, 1.2fr)',
      unsorted: true,
      cell: ({ fate, why }) => (
        <span className={fate === 'unfit' || fate === 'offered' ? 'rendition-mark' : fate === 'linked' ? undefined : 'soft'} title={why}>
          {fate === 'linked' ? `fits: ${why}` : why}
        </span>
      ),
    },
  ];
}

function runWords({ blocked, headline }: PlanView<FoundDetail>): string {
  return blocked !== null ? 'Run this plan' : `Link to ${plural(headline.value, 'clip')}`;
}
