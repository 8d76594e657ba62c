import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useCallback, type ReactNode } from 'react';
import { formatBytes, formatCount, oneOrMany } from '../../core/words/figures';
import type { OverviewView } from '../../server/projects/views/project';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { Face, StaleNote } from '../shared/Face';
import { Chart } from '../shared/chart';
import { token } from '../shared/token';
import { shortDate } from '../shared/dates';
import { Bytes, plural } from '../shared/figures';
import { stagePath } from '../shared/stages';
import './overview.css';

const KIND_WORDS: Record<string, string> = { video: 'Picture', audio: 'Sound', still: 'Stills', sequence: 'Sequences', other: 'Other' };

/** Is this project healthy, what next, how big, when was it last safe. */
export function Overview({ projectId }: { projectId: string }) {
  const query = useQuery({ queryKey: ['overview', projectId], queryFn: () => api.get(`projects/${projectId}/overview`) });
  const { data: view } = query;
  if (!view)
    return (
      <>
        <h1>Overview</h1>
        <Face asked={askedOf(query)} lines={12}>
          {null}
        </Face>
      </>
    );
  const { missing, changed, damaged, unplugged, 'not-read': notRead } = view.states;
  const bad = missing + changed + damaged + unplugged + notRead;
  const title =
    view.clips === 0
      ? 'Nothing in here yet'
      : bad === 0
        ? 'Everything is where it should be'
        : `${bad} of ${plural(view.clips, 'clip')} ${oneOrMany(bad, 'needs', 'need')} attention`;
  return (
    <>
      <StaleNote asked={askedOf(query)} />
      <div>
        <h1>{title}</h1>
        <p className="lead">
          {view.offlineEvents === 0
            ? `All ${view.events} events of the timelines have their media.`
            : `${view.offlineEvents} of ${view.events} events of the timelines ${oneOrMany(view.offlineEvents, 'has', 'have')} no media just now.`}
        </p>
      </div>
      <section className="next panel" aria-label="What to do next">
        <h2>What to do next</h2>
        {view.advice.length === 0 && (
          <p className="soft">Nothing needs you. The last safe copy is from {view.lastCrate?.isSafe ? shortDate(view.lastCrate.madeAt) : 'never'}.</p>
        )}
        {view.advice.map((advice, index) => (
          <div className="advice" key={advice.title}>
            <div>
              <b>{advice.title}</b> <span className="soft">· {advice.why}</span>
            </div>
            <Button
              component="a"
              href={`${stagePath(projectId, advice.stage)}${advice.query ? `?${advice.query}` : ''}`}
              variant={index === 0 ? 'filled' : 'default'}
              size="xs"
            >
              {index === 0 ? 'Start here' : 'Go there'}
            </Button>
          </div>
        ))}
      </section>
      <div className="facts">
        <Fact
          label="Media"
          value={<Bytes value={view.mediaBytes} />}
          more={`${plural(view.folders, 'folder')} on ${plural(view.shelves, 'shelf', 'shelves')}, project data ${formatBytes(view.projectBytes)}`}
        />
        <Fact label="Used by timelines" value={<Bytes value={view.usedBytes} />} more="whole files, each once" />
        <Fact
          label="Last safe copy"
          value={view.lastCrate?.isSafe ? shortDate(view.lastCrate.madeAt) : view.lastCrate && !view.lastCrate.lacks ? 'none now' : 'none yet'}
          more={crateFact(view)}
        />
        <Fact label="Verified copies" value={copiesValue(view.copies)} more={copiesFact(view.copies)} />
      </div>
      {view.byShelf.length > 0 && <Sizes view={view} />}
    </>
  );
}

function crateFact({ lastCrate: crate }: OverviewView): string {
  if (!crate) return 'make one in Crates';
  const what = crate.lacks ?? crate.trouble ?? (crate.checkedAt ? `checked ${shortDate(crate.checkedAt)}` : formatBytes(crate.bytes));
  return `${crate.name} on ${crate.shelfName}${crate.attached ? '' : ' (unplugged)'}, ${what}`;
}

/** Of which every byte was read. */
function copiesValue({ files, twice }: OverviewView['copies']): string {
  return files === 0 ? '–' : `${formatCount(twice)} of ${formatCount(files)}`;
}

function copiesFact({ files, once, twice, leastDrives }: OverviewView['copies']): string {
  if (files === 0) return 'no media yet';
  if (twice === files) return `files on ${leastDrives} drives or more`;
  const unread = files - once - twice;
  return `files on two drives; ${once > 0 ? `${formatCount(once)} on one` : ''}${once > 0 && unread > 0 ? ', ' : ''}${unread > 0 ? `${formatCount(unread)} not verified` : ''}`;
}

function Fact({ label, value, more }: { label: string; value: ReactNode; more: string }) {
  return (
    <div className="fact panel">
      <span className="soft">{label}</span>
      <b>{value}</b>
      <span className="soft">{more}</span>
    </div>
  );
}

function Sizes({ view }: { view: OverviewView }) {
  const byShelf = useCallback(() => {
    const rows = [...view.byShelf].reverse();
    return bars(
      rows.map((row) => row.name),
      [
        { name: 'used', colour: token('--spruce'), values: rows.map((row) => row.usedBytes) },
        { name: 'not used', colour: token('--filled'), values: rows.map((row) => row.unusedBytes) },
      ],
    );
  }, [view]);
  const byKind = useCallback(() => {
    const rows = [...view.byKind].reverse();
    return bars(
      rows.map((row) => KIND_WORDS[row.kind] ?? row.kind),
      [{ name: 'bytes', colour: token('--dusk'), values: rows.map((row) => row.bytes) }],
    );
  }, [view]);
  return (
    <div className="sizes">
      <section className="panel">
        <h2>Where the size is: shelves</h2>
        <Chart
          option={byShelf}
          height={150}
          label={view.byShelf.map((row) => `${row.name} ${formatBytes(row.usedBytes + row.unusedBytes)}`).join(', ')}
        />
      </section>
      <section className="panel">
        <h2>Where the size is: kinds</h2>
        <Chart option={byKind} height={150} label={view.byKind.map((row) => `${row.kind} ${formatBytes(row.bytes)}`).join(', ')} />
      </section>
    </div>
  );
}

function bars(names: string[], series: { name: string; colour: string; values: number[] }[]) {
  const text = { color: token('--ink'), fontFamily: token('--text'), fontSize: 12.5 };
  return {
    animation: false,
    grid: { left: 8, right: 76, top: series.length > 1 ? 26 : 6, bottom: 4, containLabel: true },
    legend: series.length > 1 ? { top: 0, left: 0, itemWidth: 12, itemHeight: 10, textStyle: text } : undefined,
    tooltip: {
      trigger: 'axis',
      axisPointer: { type: 'shadow' },
      valueFormatter: (value: unknown) => formatBytes(Number(value)),
      backgroundColor: token('--paper'),
      borderColor: token('--line'),
      textStyle: text,
    },
    xAxis: { type: 'value', axisLabel: { show: false }, splitLine: { show: false } },
    yAxis: { type: 'category', data: names, axisLine: { show: false }, axisTick: { show: false }, axisLabel: text },
    series: series.map((one, index) => ({
      type: 'bar',
      name: one.name,
      stack: 'bytes',
      barMaxWidth: 18,
      itemStyle: { color: one.colour },
      data: one.values,
      label:
        index === series.length - 1
          ? {
              show: true,
              position: 'right',
              formatter: (at: { dataIndex: number }) => formatBytes(series.reduce((sum, entry) => sum + entry.values[at.dataIndex]!, 0)),
              ...text,
            }
          : { show: false },
    })),
  };
}
