import { useState } from 'react';
import type { PartUseView } from '../../server/api/views';
import { plural } from '../shared/figures';

const FIRST = 8;

/** Who uses an item, timeline by timeline; a click goes there. */
export function UseList({
  uses,
  also = false,
  onOpen,
}: {
  uses: readonly PartUseView[];
  also?: boolean;
  onOpen: (timelineId: string, eventIndex: number) => void;
}) {
  const [all, setAll] = useState(false);
  if (uses.length === 0) return <p className="soft" style={{ margin: 0 }}>Nobody else uses it.</p>; // prettier-ignore
  const shown = all ? uses : uses.slice(0, FIRST);
  const groups = new Map<string, PartUseView[]>();
  for (const use of shown) {
    const name = use.timelineId === null ? 'Bins' : use.timelineName;
    groups.set(name, [...(groups.get(name) ?? []), use]);
  }
  return (
    <div className="uses">
      <div className="soft" style={{ fontSize: 12.5 }}>
        {also ? 'Also used' : 'Used'} by {plural(uses.length, 'event')}
      </div>
      {[...groups].map(([name, list]) => (
        <div key={name}>
          <b>{name}</b>
          {list.map((use, index) => (
            <button
              type="button"
              key={index}
              disabled={use.timelineId === null}
              title={[...use.nestedIn, use.name].join(' / ')}
              onClick={() => onOpen(use.timelineId!, use.eventIndex!)}
            >
              <span className="what">
                {use.track} {use.nestedIn.length > 0 ? `${use.nestedIn.join(' / ')} / ` : ''}
                {use.name}
              </span>
              <span className="mono">{use.record}</span>
            </button>
          ))}
        </div>
      ))}
      {uses.length > FIRST && (
        <button type="button" className="linkish soft" onClick={() => setAll(!all)}>
          {all ? 'Show fewer' : `Show ${uses.length - FIRST} more`}
        </button>
      )}
    </div>
  );
}
