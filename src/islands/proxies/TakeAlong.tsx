import { Button, Checkbox, TextInput } from '@mantine/core';
import { useMemo, type ReactNode } from 'react';
import { RENDITION_KINDS, type RenditionKind } from '../../core/rendition/read-order';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { takeAlongForm, type TakeAlongSettings, type TakeRow } from '../../core/planning/take-along/settings';
import type { KindSum, TakeAlongDetail, TakeAlongRow } from '../../core/planning/take-along/take-along';
import type { PlanView } from '../../server/kinds/plan-views';
import { Ask } from '../shared/Ask';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { Frame } from '../shared/Frame';
import { PathText } from '../shared/PathText';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { SheetField } from '../shared/SheetField';
import { StageHead } from '../shared/StageHead';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { useShelfNames } from '../shared/use-shelf-names';
import { ClipScopePick } from './ClipScopePick';
import { PlanList } from './PlanList';
import './proxies.css';

const NAMES: Readonly<Record<RenditionKind, string>> = { source: 'Sources', mezzanine: 'Mezzanines', proxy: 'Proxies', finished: 'Finished' };

const initial = (): TakeAlongSettings => ({
  scope: { of: 'project' },
  rows: Object.fromEntries(RENDITION_KINDS.map((kind) => [kind, { isTaken: kind === 'proxy', destination: null, folderName: NAMES[kind] }])) as unknown as TakeAlongSettings['rows'], // prettier-ignore
  layout: 'sources',
});

const GROUPS: readonly { readonly value: string; readonly label: string }[] = [
  { value: '', label: 'All that is asked for' },
  { value: 'copied', label: 'Copied' },
  { value: 'there', label: 'There already' },
  { value: 'lacking', label: 'Lacking' },
  { value: 'cannot', label: 'Cannot be read now' },
];

const FATES: Readonly<Record<TakeAlongRow['fate'], string>> = {
  copied: 'copied',
  'there already': 'there already',
  lacks: 'it has none',
  cannot: '',
};

interface Props {
  readonly projectId: string;
  readonly tabs: ReactNode;
  /** To where the lacking ones are made. */
  readonly onMake: () => void;
}

/** What goes along on a drive, kind by kind, and is read from there afterwards. */
export function TakeAlong({ projectId, tabs, onMake }: Props) {
  const [settings, change] = useRemembered<TakeAlongSettings>(projectId, 'take-along', initial);
  const [, changeProxies] = useRemembered<Partial<ProxySettings>>(projectId, 'proxies', () => ({}));
  const state = usePlan<TakeAlongDetail>('take-along', projectId, settings, takeAlongForm);
  const shelfName = useShelfNames();
  const columns = useMemo(() => takeColumns(shelfName), [shelfName]);
  const { detail } = state.plan ?? {};
  const lacking = settings?.rows.proxy.isTaken ? (detail?.lackingProxies.clipIds ?? []) : [];
  const setRow = (kind: RenditionKind, part: Partial<TakeRow>) => settings && change({ rows: { ...settings.rows, [kind]: { ...settings.rows[kind], ...part } } }); // prettier-ignore
  return (
    <Frame
      projectId={projectId}
      stage="proxies"
      sheet={
        <PlanSheet state={state} idle={null} runLabel={runWords}>
          <Ask plan={state.plan} code="no-destination" />
          <Ask plan={state.plan} code="no-folder-name" />
          {lacking.length > 0 && (
            <div className="controls">
              <Button
                size="xs"
                variant="default"
                onClick={() => {
                  changeProxies({ scope: { of: 'clips', clipIds: lacking }, presetId: 'pocket', onlyLacking: true });
                  onMake();
                }}
              >
                Make {plural(lacking.length, 'proxy', 'proxies')} first
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
        </PlanSheet>
      }
    >
      <StageHead title="Take along" lead="Copied to a drive, and read from there.">
        {tabs}
      </StageHead>
      {settings && (
        <>
          <div className="controls scope what-if">
            <ClipScopePick projectId={projectId} scope={settings.scope} onChange={(scope) => change({ scope })} />
          </div>
          <section className="panel take-kinds" aria-label="What is taken along">
            {RENDITION_KINDS.map((kind) => (
              <KindRow
                key={kind}
                kind={kind}
                row={settings.rows[kind]}
                sum={detail?.kinds.find((own) => own.kind === kind) ?? null}
                shelfName={shelfName}
                onChange={(part) => {
                  // The same drive as the others, until another is chosen.
                  const other = RENDITION_KINDS.map((own) => settings.rows[own]).find(({ isTaken, destination }) => isTaken && destination);
                  const own = part.isTaken && settings.rows[kind].destination === null && other ? { destination: other.destination } : {};
                  setRow(kind, { ...part, ...own });
                }}
              />
            ))}
          </section>
        </>
      )}
      <PlanList<TakeAlongRow>
        projectId={projectId}
        kind="take-along"
        settings={settings}
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
    </Frame>
  );
}

interface KindProps {
  readonly kind: RenditionKind;
  readonly row: TakeRow;
  readonly sum: KindSum | null;
  readonly shelfName: (id: string) => string;
  readonly onChange: (part: Partial<TakeRow>) => void;
}

/** One kind: how much there is of it, where it stands, and where it goes. */
function KindRow({ kind, row, sum, shelfName, onChange }: KindProps) {
  const stands = (sum?.stands ?? []).map(({ shelfId, files }) => `${files} on ${shelfName(shelfId)}`).join(', ');
  const none = sum !== null && sum.clips === 0 && !(kind === 'proxy');
  return (
    <div className="line">
      <Checkbox
        size="xs"
        label={NAMES[kind]}
        checked={row.isTaken}
        disabled={none && !row.isTaken}
        onChange={(event) => onChange({ isTaken: event.currentTarget.checked })}
      />
      <span className="soft" title={stands}>
        {sum === null ? '' : sum.files === 0 ? 'none' : `${plural(sum.files, 'file')}${stands ? `: ${stands}` : ''}`}
      </span>
      {sum && sum.files > 0 ? <Bytes value={sum.bytes} /> : <span />}
      {row.isTaken ? (
        <>
          <PlacePicker
            label={`Shelf for the ${NAMES[kind].toLowerCase()}`}
            value={row.destination}
            onChange={(destination) => onChange({ destination })}
          />
          <TextInput
            size="xs"
            aria-label={`Folder for the ${NAMES[kind].toLowerCase()}`}
            value={row.folderName}
            onChange={(event) => onChange({ folderName: event.currentTarget.value })}
            classNames={{ input: 'mono-input' }}
          />
        </>
      ) : (
        <span className="soft stays">stays behind</span>
      )}
    </div>
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
      cell: ({ fate, why }) => (
        <span className={fate === 'lacks' || fate === 'cannot' ? 'rendition-mark' : fate === 'copied' ? undefined : 'soft'}>
          {FATES[fate] || why}
        </span>
      ),
    },
  ];
}

function runWords({ blocked, stepCounts }: PlanView<TakeAlongDetail>): string {
  return blocked !== null ? 'Run this plan' : `Copy ${plural((stepCounts.copy ?? 0) + (stepCounts.frames ?? 0), 'file')}`;
}
