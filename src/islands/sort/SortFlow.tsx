import { useCallback } from 'react';
import { allFolders, REST, type Scheme } from '../../core/scheme/scheme';
import type { FlowLink } from '../../core/planning/sort/sort-rows';
import { formatBytes, formatCount } from '../../core/words/figures';
import { Chart } from '../shared/chart';
import { token } from '../shared/token';

interface Props {
  readonly flow: readonly FlowLink[];
  readonly scheme: Scheme;
  readonly structure: 'scheme' | 'bins' | 'as-it-was';
  readonly onGroup: (group: string) => void;
}

/** How many bands are told apart; the rest goes together. */
const MOST_BANDS = 40;
const HEIGHT_PX = 132;
const GAP_PX = 6;
const LINE_PX = 13;

interface Band {
  readonly source: string;
  readonly target: string;
}

/** Where everything goes: shelves and folders now at the left, standard folders at the right, as wide as they are large. */
export function SortFlow({ flow, scheme, structure, onGroup }: Props) {
  const option = useCallback(() => {
    const names = new Map([
      ...allFolders(scheme.folders).map(({ id, way }): [string, string] => [id, way.map(({ name }) => name).join(' / ')]),
      [REST, scheme.rest],
    ]);
    const nameOf = (id: string) => (structure === 'scheme' ? (names.get(id) ?? id) : id.split('/').join(' / ') || 'top');
    const shown = flow.slice(0, MOST_BANDS);
    const text = { color: token('--ink'), fontFamily: token('--text'), fontSize: 12 };
    const targets = [...new Set(shown.map(({ target }) => target))];
    const sources = new Map(shown.map((link) => [link.source, link.sourceName]));
    // Bands too narrow for a line of text are told by the pointer alone.
    const all = shown.reduce((sum, { bytes }) => sum + Math.max(1, bytes), 0);
    const room = HEIGHT_PX - 12 - GAP_PX * Math.max(sources.size, targets.length);
    const label = (isOf: (link: FlowLink) => boolean) => ({
      show: (room * shown.filter(isOf).reduce((sum, { bytes }) => sum + bytes, 0)) / all + GAP_PX >= LINE_PX,
    });
    const nodes = [
      ...[...sources].map(([source, name]) => ({
        name: `from ${source}`,
        shown: name,
        depth: 0,
        label: label((link) => link.source === source),
        itemStyle: { color: token('--filled') },
      })),
      ...targets.map((target) => ({
        name: `into ${target}`,
        shown: nameOf(target),
        depth: 1,
        label: label((link) => link.target === target),
        itemStyle: { color: token(target === REST && structure === 'scheme' ? '--ochre' : '--spruce') },
      })),
    ];
    return {
      animation: false,
      tooltip: {
        backgroundColor: token('--paper'),
        borderColor: token('--line'),
        textStyle: text,
        formatter: ({ data, value }: { data: Partial<Band> & { files?: number; shown?: string }; value: number }) =>
          data.files === undefined ? `${escape(data.shown ?? '')}: ${formatBytes(value)}` : `${formatCount(data.files)} files, ${formatBytes(value)}`,
      },
      series: [
        {
          type: 'sankey',
          left: 4,
          right: 4,
          top: 6,
          bottom: 6,
          nodeWidth: 8,
          nodeGap: GAP_PX,
          draggable: false,
          layoutIterations: 24,
          emphasis: { focus: 'adjacency' },
          label: {
            ...text,
            formatter: ({ data }: { data: { shown: string } }) => (data.shown.length > 34 ? `${data.shown.slice(0, 33)}…` : data.shown),
          },
          levels: [
            { depth: 0, label: { position: 'right' } },
            { depth: 1, label: { position: 'left' } },
          ],
          lineStyle: { curveness: 0.5, opacity: 0.35 },
          data: nodes,
          links: shown.map(({ source, target, bytes, files }) => ({
            source: `from ${source}`,
            target: `into ${target}`,
            value: Math.max(1, bytes),
            files,
            lineStyle: { color: token(target === REST && structure === 'scheme' ? '--ochre' : '--spruce-3') },
          })),
        },
      ],
    };
  }, [flow, scheme, structure]);
  const click = (data: unknown) => {
    const { name, source, target } = data as { name?: string; source?: string; target?: string };
    if (name?.startsWith('into ')) onGroup(name.slice('into '.length));
    else if (name) onGroup(name);
    else if (target) onGroup(target.slice('into '.length));
    else if (source) onGroup(source);
  };
  if (flow.length === 0) return null;
  const words = flow.slice(0, 12).map(({ sourceName, target, bytes }) => `${sourceName} to ${target}, ${formatBytes(bytes)}`);
  return (
    <div className="panel sort-flow of-plan">
      <Chart option={option} height={HEIGHT_PX} label={`Where everything goes: ${words.join('; ')}`} onClick={click} />
    </div>
  );
}

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
