import { Button, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { fileName, folderOf } from '../../core/media/item';
import type { Match } from '../../core/planning/evidence/match-evidence';
import type { RelinkRow } from '../../core/planning/relink/relink-groups';
import { PathText } from '../shared/PathText';
import { Poster } from '../shared/Poster';
import type { ShelfNames } from '../shared/use-shelf-names';

/** Why the match is taken, or what would prove it. */
function groundWords({ ground, isShared, itemId, isStanding, crate }: Match, row: RelinkRow): string {
  if (isStanding) return 'It stands under the linked name now. What was linked before stays known as an earlier delivery.';
  const inCrate = crate === undefined ? '' : ` It lies in the crate ${crate}.`;
  if (ground !== null) return `Proven: ${ground}.${inCrate}`;
  if (isShared && row.reads.includes(itemId)) return `${row.reads.length} files have this fingerprint. All are read whole before it is linked.`;
  if (isShared) return `Other files have the same fingerprint.${inCrate}`;
  return `${row.why === '' ? 'Not proven: compare the facts.' : row.why}${inCrate}`;
}

const MOST_PICTURES = 3;

/** The first frame that is read of each file that may be it, side by side, in the order of likelihood. */
function MatchPictures({ row, names, onChoose }: { row: RelinkRow; names: ShelfNames; onChoose: (itemId: string | null) => void }) {
  if (row.matches.length < 2) return null;
  return (
    <ul className="match-pictures">
      {row.matches.slice(0, MOST_PICTURES).map((match) => (
        <li key={match.itemId} className={row.chosen === match.itemId ? 'taken' : undefined}>
          <Poster itemId={match.itemId} frame={match.lookFrame} />
          <div className="mono place">
            {[names(match.place.shelfId), folderOf(match.place.path)].filter((part) => part).join(' / ')} / <b>{fileName(match.place.path)}</b>
          </div>
          <div className="soft">{match.against || `Fits by ${match.by ?? 'its facts'}`}</div>
          <Button size="compact-xs" variant="default" onClick={() => onChoose(row.chosen === match.itemId ? null : match.itemId)}>
            {row.chosen === match.itemId ? 'Leave it' : 'Take this file'}
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** What the timeline expects against what was found, fact by fact. */
export function EvidenceTable({ row, names, onChoose }: { row: RelinkRow; names: ShelfNames; onChoose: (itemId: string | null) => void }) {
  const [shown, setShown] = useState<string | null>(null);
  const match = row.matches.find((entry) => entry.itemId === shown) ?? row.matches.find((entry) => entry.itemId === row.chosen) ?? row.matches[0];
  if (!match) {
    return (
      <div className="panel evidence padded">
        <b className="mono">{row.fileName || row.name}</b>
        <div className="soft">
          Was at{' '}
          {row.oldPlace ? (
            <PathText shelf={names(row.oldPlace.shelfId)} path={row.oldPlace.path} />
          ) : (
            <span className="mono">{row.oldUrl || 'no address'}</span>
          )}
          . {row.why || 'Nothing like it was found where you looked: plug in another drive, look for changes, or look on every shelf.'}
        </div>
      </div>
    );
  }
  const taken = row.chosen === match.itemId;
  return (
    <div className="panel evidence">
      {row.verdict !== null && row.verdict !== 'matched' && <MatchPictures row={row} names={names} onChoose={onChoose} />}
      <table>
        <colgroup>
          <col className="fact-column" />
          <col />
          <col />
        </colgroup>
        <thead>
          <tr>
            <th className="mono">{row.fileName || row.name}</th>
            <th>what the timeline expects</th>
            <th>what was found</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="soft">place</td>
            <td>
              {row.oldPlace ? (
                <PathText shelf={names(row.oldPlace.shelfId)} path={row.oldPlace.path} copy={false} />
              ) : (
                <span className="mono">{row.oldUrl}</span>
              )}
            </td>
            <td>
              <PathText shelf={names(match.place.shelfId)} path={match.place.path} />
            </td>
          </tr>
          {match.evidence
            // Of what was never linked there is nothing to compare but what the timeline says.
            .filter((entry) => entry.fact !== 'name' && (row.verdict === null || entry.expected !== '–'))
            .map((entry) => (
              <tr key={entry.fact}>
                <td className="soft">{entry.fact}</td>
                <td className="mono">{entry.expected}</td>
                <td className={`mono ${entry.agrees === true ? 'agrees' : entry.agrees === false ? 'differs' : ''}`}>{entry.found}</td>
              </tr>
            ))}
        </tbody>
      </table>
      <div className="evidence-foot">
        {row.matches.length > 1 && (
          <SegmentedControl
            size="xs"
            aria-label="Matches"
            data={row.matches.map((entry, index) => ({ value: entry.itemId, label: entry.isStanding ? 'The new one' : `Match ${index + 1}` }))}
            value={match.itemId}
            onChange={setShown}
          />
        )}
        <span className="soft">{groundWords(match, row)}</span>
        <Button size="compact-sm" variant="default" ml="auto" onClick={() => onChoose(taken ? null : match.itemId)}>
          {taken
            ? 'Leave this clip as it is'
            : match.isStanding
              ? 'Take the new one'
              : row.state !== 'changed'
                ? 'Take this match'
                : match.strength === 'offered'
                  ? 'Take this file instead'
                  : 'Go back to this one'}
        </Button>
      </div>
    </div>
  );
}
