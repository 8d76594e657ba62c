import { Button, Checkbox } from '@mantine/core';
import type { Place } from '../../core/media/item';
import { rateLabel, type Rate } from '../../core/time/rate';
import type { MatchRow, MatchSummary } from '../../server/projects/match-view';
import { plural } from '../shared/figures';
import { FindMedia } from '../shared/FindMedia';
import { IconCheck, IconChanged, IconCopy, IconMissing } from '../shared/icons';
import { NameAdditions } from '../shared/NameAdditions';
import { PathText } from '../shared/PathText';
import { PlacePicker } from '../shared/PlacePicker';
import { oneOrMany } from '../../core/words/figures';

export interface MatchChoices {
  readonly take: boolean;
  readonly scope: Place | null;
  readonly additions: readonly string[] | undefined;
}

interface Props {
  readonly matches: MatchSummary;
  readonly choices: MatchChoices;
  readonly onChoose: (choices: MatchChoices) => void;
  readonly readAt: Rate | undefined;
  readonly onReadAt: (rate: Rate) => void;
  readonly reading: string | null;
  readonly onReading: (shelfId: string) => void;
}

const SIGNS: Readonly<Record<MatchRow['verdict'], { icon: typeof IconCheck; colour: string; word: string }>> = {
  matched: { icon: IconCheck, colour: 'var(--spruce)', word: 'matched' },
  ambiguous: { icon: IconCopy, colour: 'var(--ochre)', word: 'ambiguous' },
  doubtful: { icon: IconChanged, colour: 'var(--ochre)', word: 'to compare' },
  'no match': { icon: IconMissing, colour: 'var(--brick)', word: 'no match' },
};

/** Which files the clips of a list would read, before it comes in. */
export function MatchLook({ matches, choices, onChoose, readAt, onReadAt, reading, onReading }: Props) {
  const open = matches.sources - matches.linked;
  if (open === 0) return null;
  const { rate } = matches;
  return (
    <section className="match-look" aria-label="Media of the clips">
      <div className="match-head">
        <b>{summaryWords(matches)}</b>
        <PlacePicker label="Where to look" none="On every shelf" value={choices.scope} onChange={(scope) => onChoose({ ...choices, scope })} />
        <NameAdditions value={choices.additions} onChange={(additions) => onChoose({ ...choices, additions })} />
      </div>
      {rate && readAt && (
        <div className="note warns">
          <p>
            {plural(rate.files, 'file')} of {rate.of} {oneOrMany(rate.files, 'runs', 'run')} at {rateLabel(rate.rate)} frames a second. The list is
            read at {rateLabel(readAt)}.
          </p>
          <p className="hint">
            <Button size="compact-xs" variant="default" onClick={() => onReadAt(rate.rate)}>
              Read the list at {rateLabel(rate.rate)}
            </Button>
          </p>
        </div>
      )}
      <ul className="panel match-rows" tabIndex={0} aria-label="Clips and their files">
        {matches.rows.map((row, index) => (
          <Row key={index} row={row} />
        ))}
        {open > matches.rows.length && <li className="soft more">and {plural(open - matches.rows.length, 'more clip')}</li>}
      </ul>
      <div className="match-foot">
        <Checkbox
          size="xs"
          disabled={matches.matched === 0}
          checked={choices.take && matches.matched > 0}
          onChange={(event) => onChoose({ ...choices, take: event.currentTarget.checked })}
          label={matches.matched === 0 ? 'No clip is matched' : `Link ${plural(matches.matched, 'matched clip')}`}
        />
        <span className="soft">
          {matches.matched > 0 && 'Not proven; you can take the links back. '}
          {open > matches.matched && `Relink has the other ${plural(open - matches.matched, 'clip')}.`}
        </span>
        {matches.notFound > 0 && <FindMedia label="Look in another folder" reading={reading} onReading={onReading} />}
      </div>
    </section>
  );
}

function summaryWords({ sources, linked, matched, ambiguous, doubtful, notFound, groups }: MatchSummary): string {
  const [first, ...others] = groups;
  const where = first && others.length === 0 ? ` on ${first.shelf} by ${first.by}` : groups.length > 1 ? ` on ${[...new Set(groups.map(({ shelf }) => shelf))].slice(0, 3).join(', ')}` : ''; // prettier-ignore
  const parts = [
    ...(linked > 0 ? [`${linked} linked by address`] : []),
    `${matched} matched${where}`,
    ...(ambiguous > 0 ? [`${ambiguous} ambiguous`] : []),
    ...(doubtful > 0 ? [`${doubtful} to compare`] : []),
    ...(notFound > 0 ? [`${notFound} with no match`] : []),
  ];
  return `${plural(sources, 'clip')}: ${parts.join(', ')}`;
}

function Row({ row }: { row: MatchRow }) {
  const { icon: Icon, colour, word } = SIGNS[row.verdict];
  const [first] = row.files;
  return (
    <li>
      <span className="sign" title={word}>
        <Icon size={13} color={colour} role="img" aria-label={word} />
      </span>
      <span className="mono name" title={row.name}>
        {row.name}
      </span>
      <span className="found">
        {first && row.verdict === 'matched' ? (
          <PathText shelf={first.shelf} path={first.place.path} copy={false} />
        ) : (
          <span className="why" title={row.why}>
            {row.why}
          </span>
        )}
      </span>
      <span className="soft by">{row.verdict === 'matched' ? row.by : word}</span>
    </li>
  );
}
