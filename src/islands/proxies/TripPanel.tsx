import { NumberInput, TextInput } from '@mantine/core';
import { useTyped } from '../shared/form/use-typed';
import type { Trip } from '../../core/planning/take-along/settings';
import type { TripSum } from '../../core/planning/take-along/trip';
import { RENDITION_KINDS, type RenditionKind } from '../../core/rendition/read-order';
import { formatBytes, formatDuration, readBytes, oneOrMany } from '../../core/words/figures';
import { plural } from '../shared/figures';
import { PlacePicker } from '../shared/PlacePicker';
import { KIND_NAMES } from './TakeKinds';

export const TRIP_AT_FIRST: Trip = { destination: null, folderName: 'On the road', days: 3, dayBytes: null, mostBytes: null };

/** Best first, in the colours that say how good they are. */
const COLOURS: Readonly<Record<RenditionKind, string>> = {
  finished: 'var(--plum)',
  source: 'var(--spruce)',
  mezzanine: 'var(--dusk)',
  proxy: 'var(--ochre)',
};

interface Props {
  readonly trip: Trip;
  readonly sum: TripSum | null;
  readonly invalid: Readonly<Record<string, string>>;
  readonly onChange: (part: Partial<Trip>) => void;
}

/** For how long, on which drive, with how much room: and what is read on the way then. */
export function TripPanel({ trip, sum, invalid, onChange }: Props) {
  return (
    <section className="panel trip" aria-label="The trip">
      <div className="controls">
        <PlacePicker label="Drive for the trip" value={trip.destination} onChange={(destination) => onChange({ destination })} />
        <TextInput
          size="xs"
          w={130}
          aria-label="Folder on the drive"
          error={invalid['trip.folderName']}
          value={trip.folderName}
          onChange={(event) => onChange({ folderName: event.currentTarget.value })}
          classNames={{ input: 'mono-input' }}
        />
      </div>
      <div className="controls sentence">
        <span>For</span>
        <NumberInput
          size="xs"
          w={62}
          aria-label="Days of the trip"
          min={0}
          max={365}
          allowDecimal={false}
          error={invalid['trip.days']}
          value={trip.days}
          onChange={(days) => typeof days === 'number' && onChange({ days })}
        />
        <span>{oneOrMany(trip.days, 'day,', 'days, each')} keeping</span>
        <BytesInput label="Room kept free a day" empty="1 % of the drive" value={trip.dayBytes} onChange={(dayBytes) => onChange({ dayBytes })} />
        <span>free for work, taking at most</span>
        <BytesInput label="At most on the drive" empty="all the rest" value={trip.mostBytes} onChange={(mostBytes) => onChange({ mostBytes })} />
      </div>
      {sum && sum.room !== null && <OnTheWay sum={sum} />}
    </section>
  );
}

/** How many clips are read by what. */
function OnTheWay({ sum: { clips, left } }: { sum: TripSum }) {
  const kinds = RENDITION_KINDS.filter((kind) => clips[kind] > 0);
  if (kinds.length === 0 && left.clips === 0) return null;
  return (
    <div className="on-the-way" role="status">
      <div className="bar">
        {kinds.map((kind) => (
          <i key={kind} style={{ flexGrow: clips[kind], background: COLOURS[kind] }} />
        ))}
        {left.clips > 0 && <i className="no-room" style={{ flexGrow: left.clips }} />}
      </div>
      <div className="legend">
        {kinds.map((kind) => (
          <span key={kind}>
            <i style={{ background: COLOURS[kind] }} /> {KIND_NAMES[kind].toLowerCase()} of <b>{plural(clips[kind], 'clip')}</b>
          </span>
        ))}
        {left.clips > 0 && (
          <span>
            <i className="no-room" /> no room for <b>{plural(left.clips, 'clip')}</b>
            {left.seconds > 0 && ` (${formatDuration(left.seconds)})`}
          </span>
        )}
      </div>
    </div>
  );
}

interface BytesProps {
  readonly label: string;
  /** What an empty field says. */
  readonly empty: string;
  readonly value: number | null;
  readonly onChange: (bytes: number | null) => void;
}

/** Bytes as people type them: "1 TB", "20 GB"; told as they are understood when the field is left. */
function BytesInput({ label, empty, value, onChange }: BytesProps) {
  const typed = useTyped(label, value === null ? '' : formatBytes(value), {
    wrong: (text) => (text.trim() !== '' && readBytes(text) === null ? 'as 20 GB or 1 TB' : undefined),
    keep: (text) => {
      onChange(text.trim() === '' ? null : readBytes(text));
      return true;
    },
  });
  return <TextInput size="xs" w={122} aria-label={label} placeholder={empty} title={`${label}, as 500 MB, 20 GB or 1 TB`} {...typed} />;
}
