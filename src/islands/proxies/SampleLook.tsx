import { useRef, useState, type UIEvent } from 'react';
import type { SampleSource } from '../../core/planning/proxies/alternatives';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { sizeOf, sizeWords } from '../../core/rendition/picture-size';
import { presetOf } from '../../core/rendition/presets';
import { Dialog } from '../shared/Dialog';
import { sampleQuery } from './sample-query';

interface Props {
  readonly sample: SampleSource;
  readonly settings: ProxySettings;
  readonly onClose: () => void;
}

/** The same frame of the source and of its light copy, both as large as the source: what is moved in one moves in the other. */
export function SampleLook({ sample, settings, onClose }: Props) {
  const panes = [useRef<HTMLDivElement>(null), useRef<HTMLDivElement>(null)];
  const made = sizeOf(sample, settings.size);
  const follow = (index: number) => (event: UIEvent<HTMLDivElement>) => {
    const other = panes[1 - index]!.current;
    const { scrollLeft, scrollTop } = event.currentTarget;
    if (other && (other.scrollLeft !== scrollLeft || other.scrollTop !== scrollTop)) other.scrollTo(scrollLeft, scrollTop);
  };
  const address = (query: string) => `/api/items/${sample.itemId}/sample-picture${query}`;
  const looks = [
    ['Source', `${sample.width} × ${sample.height}`, address('')],
    [presetOf(settings.presetId).name, `${sizeWords(settings.size)}: ${made.width} × ${made.height}, shown as large as the source`, address(`?${sampleQuery(settings.presetId, made, settings.quality)}`)], // prettier-ignore
  ] as const;
  return (
    <Dialog opened onClose={onClose} title={`A frame of ${sample.name}`} size={1160} closeButtonProps={{ 'aria-label': 'Close' }}>
      <div className="sample-look">
        {looks.map(([name, about, src], index) => (
          <figure key={name}>
            <div ref={panes[index]} className="pane" tabIndex={0} role="group" aria-label={`${name}, full size`} onScroll={follow(index)}>
              <Picture src={src} width={sample.width} height={sample.height} alt={name} />
            </div>
            <figcaption>
              <b>{name}</b> <span className="soft">{about}</span>
            </figcaption>
          </figure>
        ))}
      </div>
    </Dialog>
  );
}

function Picture({ src, width, height, alt }: { src: string; width: number; height: number; alt: string }) {
  const [state, setState] = useState<'waiting' | 'there' | 'broken'>('waiting');
  return (
    <>
      {state !== 'there' && <div className="veil soft">{state === 'broken' ? 'This frame cannot be shown.' : 'The frame is being made …'}</div>}
      <img src={src} width={width} height={height} alt={alt} onLoad={() => setState('there')} onError={() => setState('broken')} />
    </>
  );
}
