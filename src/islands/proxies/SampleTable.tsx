import { Button } from '@mantine/core';
import { useQueries, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Alternative, Alternatives } from '../../core/planning/proxies/alternatives';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { sizeOf, sizeWords, type PictureSize } from '../../core/rendition/picture-size';
import { presetOf } from '../../core/rendition/presets';
import { api } from '../shared/api';
import { formatDuration } from '../../core/words/figures';
import { Bytes } from '../shared/figures';
import { sampleQuery } from './sample-query';
import { SampleLook } from './SampleLook';

interface Props {
  readonly alternatives: Alternatives;
  readonly settings: ProxySettings;
  readonly onChange: (change: Partial<ProxySettings>) => void;
}

/** What the same clips would take in other presets and sizes, measured on a short piece of the largest of them. */
export function SampleTable({ alternatives: { sample, all }, settings, onChange }: Props) {
  const [looking, setLooking] = useState(false);
  const { quality } = settings;
  const sizes = [...new Map(all.map(({ size }) => [keyOf(size), size])).values()];
  const presets = [...new Set(all.map(({ presetId }) => presetId))];
  // Sources that must not go into a preset get another: that one is measured too.
  const measuredIds = [...new Set(all.flatMap(({ gets }) => gets))];
  const wanted = sizes.flatMap((size) => measuredIds.map((presetId) => ({ presetId, size })));
  const samples = useQueries({
    queries: wanted.map(({ presetId, size }) => ({
      queryKey: ['sample', sample.itemId, presetId, keyOf(size), quality],
      queryFn: ({ signal }: { signal: AbortSignal }) => api.get(`items/${sample.itemId}/sample?${sampleQuery(presetId, sizeOf(sample, size), quality)}`, signal), // prettier-ignore
      staleTime: Infinity,
      retry: 1,
    })),
  });
  const failed = samples.find(({ error }) => error)?.error;
  const busy = samples.some(({ isLoading }) => isLoading);
  // The sheet reckons with what was measured, and the table with the sheet.
  const client = useQueryClient();
  const isNews = !busy && !failed && all.some(({ isMeasured }) => !isMeasured);
  useEffect(() => {
    if (isNews) void client.invalidateQueries({ queryKey: ['plan', 'proxies'] });
  }, [isNews, client]);
  return (
    <div className="sample-table">
      <div className="soft preset-about">
        {busy ? 'Being measured on' : 'Measured on'} two seconds of <span className="mono">{sample.name}</span>
      </div>
      <table aria-label="What other presets and sizes would take">
        <thead>
          <tr>
            <th scope="row">Preset</th>
            {sizes.map((size) => (
              <th key={keyOf(size)} scope="col">
                {sizeWords(size)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {presets.map((presetId) => (
            <tr key={presetId}>
              <th scope="row">{presetOf(presetId).name}</th>
              {sizes.map((size) => {
                const alternative = all.find((one) => one.presetId === presetId && keyOf(one.size) === keyOf(size))!;
                const isAsked = presetId === settings.presetId && keyOf(size) === keyOf(settings.size);
                return (
                  <td key={keyOf(size)}>
                    <Figure alternative={alternative} isAsked={isAsked} onTake={() => onChange({ presetId, size })} />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {failed && <p className="note warns tight">{failed.message}</p>}
      <Button size="xs" variant="default" onClick={() => setLooking(true)}>
        Look at a frame of it
      </Button>
      {looking && <SampleLook sample={sample} settings={settings} onClose={() => setLooking(false)} />}
    </div>
  );
}

function keyOf(size: PictureSize): string {
  return JSON.stringify(size);
}

interface FigureProps {
  readonly alternative: Alternative;
  readonly isAsked: boolean;
  readonly onTake: () => void;
}

function Figure({ alternative, isAsked, onTake }: FigureProps) {
  if (!alternative.isMeasured) return <span className="soft">…</span>;
  const words = `${presetOf(alternative.presetId).name}, ${sizeWords(alternative.size)}`;
  return (
    <button type="button" aria-pressed={isAsked} title={`Take ${words}`} aria-label={`Take ${words}`} onClick={onTake}>
      <Bytes value={alternative.bytes} />
      {alternative.seconds !== null && <span className="soft">{formatDuration(alternative.seconds)}</span>}
    </button>
  );
}
