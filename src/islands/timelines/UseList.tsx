import { useState } from 'react';
import type { PartUseView } from '../../server/projects/views/usage';
import { Face } from '../shared/Face';
import { plural } from '../shared/figures';
import type { ItemUses } from './use-item-uses';

const FIRST = 8;

/** Who uses an item, timeline by timeline; a click goes there. */
export function UseList({
  uses: { uses, total, more, asked },
  also = false,
  onOpen,
}: {
  uses: ItemUses;
  also?: boolean;
  onOpen: (timelineId: string, eventIndex: number) => void;
}) {
  const [all, setAll] = useState(false);
  if (!asked.isThere)
    return (
      <Face asked={asked} lines={3}>
        {null}
      </Face>
    );
  if (total === 0) return <p className="soft tight">Nobody else uses it.</p>; // prettier-ignore
  const shown = all ? uses : uses.slice(0, FIRST);
  const groups = new Map<string, PartUseView[]>();
  for (const use of shown) {
    const name = use.timelineId === null ? 'Bins' : use.timelineName;
    const list = groups.get(name);
    if (list) list.push(use);
    else groups.set(name, [use]);
  }
  const rest = total - shown.length;
  return (
    <div className="uses">
      <div className="soft small">
        {also ? 'Also used' : 'Used'} by {plural(total, 'event')}
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
      {rest > 0 && (
        <button type="button" className="linkish soft" onClick={() => (all ? more?.() : setAll(true))}>
          Show {Math.min(rest, all ? rest : uses.length - shown.length)} more
        </button>
      )}
      {all && total > FIRST && (
        <button type="button" className="linkish soft" onClick={() => setAll(false)}>
          Show fewer
        </button>
      )}
    </div>
  );
}
