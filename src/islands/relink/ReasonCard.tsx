import { Button, Checkbox } from '@mantine/core';
import { folderOf } from '../../core/media/item';
import type { RelinkGroup, RelinkRow } from '../../core/planning/relink-groups';
import { plural } from '../shared/figures';
import { StateSign } from '../shared/StateSign';
import type { ShelfNames } from '../shared/use-shelf-names';

interface Props {
  readonly group: RelinkGroup;
  readonly names: ShelfNames;
  readonly open: boolean;
  readonly openClip: string | null;
  readonly onOpen: () => void;
  readonly onOpenClip: (clipId: string) => void;
  readonly onChoose: (clipId: string, itemId: string | null) => void;
  readonly onAcceptAll: (accept: boolean) => void;
  readonly onSetAside: (aside: boolean) => void;
}

/** One reason and the clips it concerns. */
export function ReasonCard({ group, names, open, openClip, onOpen, onOpenClip, onChoose, onAcceptAll, onSetAside }: Props) {
  const chosen = group.rows.filter((row) => row.chosen !== null).length;
  const findable = group.rows.filter((row) => row.matches[0] && row.matches[0].strength !== 'offered').length;
  return (
    <section className={open ? 'panel reason open' : 'panel reason'} onClick={onOpen} data-reason={group.state}>
      <div className="top" role="button" tabIndex={0} aria-expanded={open} onKeyDown={(event) => event.key === 'Enter' && onOpen()}>
        <StateSign state={group.state} bare />
        <b>{group.title}</b>
        <Pill group={group} chosen={chosen} />
        <span style={{ fontWeight: 600 }}>{plural(group.rows.length, 'clip')}</span>
      </div>
      {open && (
        <>
          <div className="second">
            <div className="explains">{group.from && group.to ? <FolderChange group={group} names={names} /> : group.explains}</div>
            <div className="actions" onClick={(event) => event.stopPropagation()}>
              {findable > 0 && chosen < findable && (
                <Button size="compact-xs" variant="default" onClick={() => onAcceptAll(true)}>
                  Take all {findable} that were found
                </Button>
              )}
              {chosen > 0 && (
                <Button size="compact-xs" variant="default" onClick={() => onAcceptAll(false)}>
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
          <div className="clip-rows" role="list">
            {group.rows.map((row) => (
              <ClipRow key={row.key} row={row} selected={row.key === openClip} onOpen={() => onOpenClip(row.key)} onChoose={onChoose} />
            ))}
          </div>
        </>
      )}
    </section>
  );
}

function Pill({ group, chosen }: { group: RelinkGroup; chosen: number }) {
  const proven = group.rows.filter((row) => row.matches[0]?.strength === 'proven').length;
  if (group.state === 'unplugged')
    return (
      <span className="pill ochre">{proven > 0 ? `waits for the drive · ${plural(proven, 'copy', 'copies')} found` : 'waits for the drive'}</span>
    );
  if (group.state === 'set-aside') return <span className="pill dusk">set aside</span>;
  if (chosen === group.rows.length)
    return (
      <span className="pill spruce">
        {proven === chosen ? `${proven} of ${group.rows.length} proven` : `${chosen} of ${group.rows.length} chosen`}
      </span>
    );
  return <span className="pill brick">{group.rows.some((row) => row.matches.length > 0) ? 'needs your eye' : `${group.rows.length} open`}</span>;
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

const STRENGTHS = { proven: ['spruce', 'same content'], agrees: ['dusk', 'facts agree'], offered: ['ochre', 'look yourself'] } as const;

function strengthWords(row: RelinkRow, match: RelinkRow['matches'][number]): readonly [string, string] {
  return row.reads.includes(match.itemId) ? ['dusk', 'read first'] : STRENGTHS[match.strength];
}

function ClipRow({
  row,
  selected,
  onOpen,
  onChoose,
}: {
  row: RelinkRow;
  selected: boolean;
  onOpen: () => void;
  onChoose: (clipId: string, itemId: string | null) => void;
}) {
  const best = row.matches.find((match) => match.itemId === row.chosen) ?? row.matches[0];
  return (
    <div className={selected ? 'clip-row sel' : 'clip-row'} role="listitem" onClick={(event) => (event.stopPropagation(), onOpen())}>
      <Checkbox
        size="xs"
        aria-label={`Relink ${row.name}`}
        disabled={!best}
        title={best ? undefined : 'Nothing was found that it could be linked to'}
        checked={row.chosen !== null}
        onChange={(event) => onChoose(row.key, event.currentTarget.checked ? best!.itemId : null)}
        onClick={(event) => event.stopPropagation()}
      />
      <span className="mono" title={row.fileName}>
        {row.fileName || row.name}
      </span>
      <span className="mono soft" title={best?.place.path}>
        {best ? `${folderOf(best.place.path) || '(top)'} /` : 'not found where you looked'}
      </span>
      <span className="soft num">{plural(row.events, 'event')}</span>
      <span style={{ textAlign: 'right' }}>
        {best && <span className={`pill ${strengthWords(row, best)[0]}`}>{strengthWords(row, best)[1]}</span>}
      </span>
    </div>
  );
}
