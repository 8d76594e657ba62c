import { Button, Radio } from '@mantine/core';
import { useMemo, useState, type ReactNode } from 'react';
import type { Generation, GenerationRow, GenerationsDetail } from '../../core/planning/generations/generations';
import { generationsForm, NONE, type GenerationsSettings } from '../../core/planning/generations/settings';
import type { PlanView } from '../../server/kinds/plan-views';
import { dayOf } from '../shared/dates';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { StateSign } from '../shared/StateSign';
import type { Column } from '../shared/table/VirtualTable';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';
import { PlanList } from '../shared/PlanList';
import { ClipScopePick } from './ClipScopePick';
import { GenerationsShot } from './GenerationsShot';
import { ProxiesView } from './ProxiesView';

type Kept = Omit<GenerationsSettings, 'read'>;
const initial = (): Kept => ({ scope: { of: 'project' }, rendition: 'finished' });

const GROUPS = [
  { value: '', label: 'All that have one' },
  { value: 'several', label: 'In several generations' },
  { value: 'another', label: 'Read another then' },
];

/** Generations of the same clips in the order in which they came: which is read, and going back to an earlier one. */
export function Generations({ projectId, tabs }: { projectId: string; tabs: ReactNode }) {
  const [kept, change] = useRemembered<Kept>(projectId, 'generations', initial);
  const [read, choose] = useState<string | null>(null);
  const settings = useMemo((): GenerationsSettings | null => kept && { ...kept, read }, [kept, read]);
  const state = usePlan('generations', projectId, settings, generationsForm);
  const generations = state.plan?.detail.generations ?? [];
  const names = JSON.stringify(generations.map(({ key, name }) => [key, name]));
  const columns = useMemo(() => generationColumns(new Map(JSON.parse(names) as [string, string][])), [names]);
  const latest = generations.findLastIndex(({ readNow }) => readNow > 0);
  const before = latest > 0 ? generations[latest - 1]!.key : latest === 0 ? NONE : null;
  return (
    <ProxiesView
      title="Generations"
      lead="In the order in which they came."
      tabs={tabs}
      state={state}
      runLabel={runWords}
      sheet={
        <>
          {before !== null && (
            <div className="controls">
              <Button size="xs" variant="default" disabled={read === before} onClick={() => choose(before)}>
                One step back{before === NONE ? ': none of them' : ''}
              </Button>
            </div>
          )}
        </>
      }
    >
      {kept && (
        <div className="controls scope what-if">
          <Choice
            label="Generations of what"
            width={150}
            options={[
              ['finished', 'Finished'],
              ['mezzanine', 'Mezzanines'],
              ['proxy', 'Proxies'],
            ]}
            value={kept.rendition}
            onChange={(rendition) => {
              choose(null);
              change({ rendition });
            }}
          />
          <ClipScopePick
            projectId={projectId}
            scope={kept.scope}
            onChange={(scope) => {
              choose(null);
              change({ scope });
            }}
          />
        </div>
      )}
      {generations.length > 0 && <InOrder generations={generations} read={read} onChoose={choose} />}
      <PlanList<GenerationRow>
        projectId={projectId}
        kind="generations"
        state={state}
        label="Clips and the generation they read"
        sort="name"
        columns={columns}
        rowKey={(row) => row.clipId}
        noun="clip"
        find="clip or file"
        groups={GROUPS}
        empty={
          <Empty title="No generation yet">Make proxies, or link what was made elsewhere: those that come later are kept beside those before.</Empty>
        }
      >
        {(row) => <GenerationsShot row={row} generations={generations} />}
      </PlanList>
    </ProxiesView>
  );
}

interface InOrderProps {
  readonly generations: readonly Generation[];
  readonly read: string | null;
  readonly onChoose: (key: string) => void;
}

/** The latest first; what is later than the chosen one is set back. */
function InOrder({ generations, read, onChoose }: InOrderProps) {
  const at = read === null ? null : read === NONE ? -1 : generations.findIndex(({ key }) => key === read);
  return (
    <Radio.Group className="panel generations" aria-label="Which generation is read" value={read ?? ''} onChange={onChoose}>
      {[...generations.entries()].reverse().map(([index, own]) => {
        const isBack = at === null ? own.readNow === 0 && generations.slice(0, index).some(({ readNow }) => readNow > 0) : index > at;
        const words = [own.preset, own.burnIn && 'burned in', own.cameAt && dayOf(own.cameAt), own.lacking > 0 && `${own.lacking} away`];
        return (
          <div key={own.key} className={`line${isBack ? ' behind-line' : ''}`}>
            <Radio size="xs" value={own.key} label={own.name} title={own.name} classNames={{ label: 'one-line' }} />
            <span className="soft" title={words.filter(Boolean).join(' · ')}>
              {words.filter(Boolean).join(' · ')}
            </span>
            <span className="figure">{plural(own.clips, 'clip')}</span>
            <Bytes value={own.bytes} />
            <span className="figure" title="Clips that read it">
              {own.readNow !== own.readThen && <span className="soft">{own.readNow} → </span>}
              {own.readNow === own.readThen && 'read by '}
              <b>{own.readThen}</b>
            </span>
          </div>
        );
      })}
      <div className="line">
        <Radio size="xs" value={NONE} label="None of them" />
      </div>
    </Radio.Group>
  );
}

function generationColumns(names: ReadonlyMap<string, string>): readonly Column<GenerationRow>[] {
  const nameOf = (key: string | null) => (key === null ? 'none of them' : (names.get(key) ?? ''));
  return [
    { key: 'name', title: 'Clip', width: 'minmax(110px, 0.8fr)', cell: ({ name }) => <span title={name}>{name}</span> },
    { key: 'many', title: 'Has', width: '52px', unsorted: true, numeric: true, cell: ({ cells }) => cells.length },
    {
      key: 'now',
      title: 'Now',
      width: 'minmax(130px, 1fr)',
      unsorted: true,
      cell: ({ readsNow }) => <span className={readsNow === null ? 'soft' : undefined}>{nameOf(readsNow)}</span>,
    },
    {
      key: 'then',
      title: 'Then',
      width: 'minmax(130px, 1fr)',
      unsorted: true,
      cell: ({ readsNow, readsThen }) => <span className={readsNow === readsThen ? 'soft' : 'read-then'}>{nameOf(readsThen)}</span>,
    },
    { key: 'state', title: 'Clip then', width: '96px', unsorted: true, cell: ({ then }) => <StateSign state={then} /> },
  ];
}

function runWords({ blocked, headline }: PlanView<GenerationsDetail>): string {
  return blocked !== null ? 'Run this plan' : `Read it in ${plural(headline.value, 'clip')}`;
}
