import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import type { ReasonDecision } from '../../core/planning/relink/settings';
import type { RelinkGroup } from '../../core/planning/relink/relink-groups';
import { plural } from '../shared/figures';
import { StateSign } from '../shared/StateSign';
import type { ShelfNames } from '../shared/use-shelf-names';

/** Rows of a list that is looked at one by one; the others are scrolled to. */
const MOST_CLIPS = 8;

interface Props {
  readonly group: RelinkGroup;
  readonly names: ShelfNames;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onDecide: (decision: ReasonDecision) => void;
  readonly onSetAside: (aside: boolean) => void;
  /** Further actions of this reason. */
  readonly actions?: ReactNode;
  /** Its clips, shown while it is open. */
  readonly children: ReactNode;
}

/** One reason and the clips it concerns. */
export function ReasonCard({ group, names, open, onOpen, onDecide, onSetAside, actions, children }: Props) {
  const { chosen, findable, standing } = group;
  return (
    <section className={open ? 'panel reason open' : 'panel reason'} data-reason={group.state}>
      <button type="button" className="top" aria-expanded={open} onClick={onOpen}>
        <StateSign state={group.state} bare />
        <b title={group.title}>{group.title}</b>
        <Pill group={group} />
        <span className="strong">{plural(group.count, 'clip')}</span>
      </button>
      {open && (
        <>
          <div className="second">
            <div className="explains">{group.from && group.to ? <FolderChange group={group} names={names} /> : group.explains}</div>
            <div className="actions">
              {actions}
              {standing > 0 && (
                <Button size="compact-xs" variant="default" onClick={() => onDecide('take-new')}>
                  {standing === 1 ? 'Take the new one' : `Take the ${standing} new ones`}
                </Button>
              )}
              {standing > 0 && findable > 0 && (
                <Button size="compact-xs" variant="default" onClick={() => onDecide('take')}>
                  {findable === 1 ? 'Go back to the old one' : `Go back to the ${findable} old ones`}
                </Button>
              )}
              {standing === 0 && findable > 0 && chosen < findable && (
                <Button size="compact-xs" variant="default" onClick={() => onDecide('take')}>
                  {findable === 1 ? 'Take the 1 that was found' : `Take all ${findable} that were found`}
                </Button>
              )}
              {chosen > 0 && (
                <Button size="compact-xs" variant="default" onClick={() => onDecide('leave')}>
                  Leave them all
                </Button>
              )}
              {group.state === 'missing' && findable === 0 && (
                <Button size="compact-xs" variant="default" onClick={() => onSetAside(true)}>
                  Set aside: do not ask again
                </Button>
              )}
              {group.state === 'set-aside' && (
                <Button size="compact-xs" variant="default" onClick={() => onSetAside(false)}>
                  Ask for them again
                </Button>
              )}
            </div>
          </div>
          <div className="clip-rows" style={{ height: 33 + 34 * Math.min(MOST_CLIPS, group.count) }}>
            {children}
          </div>
        </>
      )}
    </section>
  );
}

function Pill({ group }: { group: RelinkGroup }) {
  const { state, count, chosen, proven, offered } = group;
  if (state === 'unplugged')
    return (
      <span className="pill ochre">{proven > 0 ? `waits for the drive · ${plural(proven, 'copy', 'copies')} found` : 'waits for the drive'}</span>
    );
  if (state === 'present' && chosen < count) return <span className="pill">read from copies</span>;
  if (state === 'set-aside') return <span className="pill dusk">set aside</span>;
  if (chosen === count && group.key.startsWith('matched ')) return <span className="pill dusk">{`${chosen} of ${count} chosen, not proven`}</span>;
  if (chosen === count)
    return <span className="pill spruce">{proven === chosen ? `${proven} of ${count} proven` : `${chosen} of ${count} chosen`}</span>;
  return <span className="pill brick">{offered > 0 ? 'needs your eye' : `${count} open`}</span>;
}

/** The part of the path that differs is marked. */
function FolderChange({ group, names }: { group: RelinkGroup; names: ShelfNames }) {
  const from = [names(group.from!.shelfId), ...group.from!.path.split('/')];
  const to = [names(group.to!.shelfId), ...group.to!.path.split('/')];
  const parts = (own: string[], other: string[], kind: 'old' | 'new') =>
    own.map((part, index) => (
      <span key={index}>
        {index > 0 && ' / '}
        {part === other[index] ? part : <mark className={kind}>{part || '(top)'}</mark>}
      </span>
    ));
  return (
    <span className="mono">
      {parts(from, to, 'old')} → {parts(to, from, 'new')}
    </span>
  );
}
