/** Clips that are not there, gathered by the reason: one decision settles many. */
import { fileName, folderOf, type Place } from '../../media/item';
import type { LinkState } from '../../project/clip';
import type { Verdict } from '../../matching/decide';
import type { Match } from '../evidence/match-evidence';
import type { StockView } from '../plan/stock-view';

export interface RelinkRow {
  /** The clip's id, or that and the item's position where the clip has several. Choices go by it. */
  readonly key: string;
  readonly clipId: string;
  /** Which item of the source. */
  readonly position: number;
  readonly name: string;
  readonly fileName: string;
  readonly state: LinkState;
  readonly oldPlace: Place | null;
  readonly oldUrl: string;
  readonly events: number;
  readonly usedFrames: number;
  readonly matches: readonly Match[];
  /** Item that the clip would be linked to now; null leaves it. */
  readonly chosen: string | null;
  /** Items of one fingerprint that are read whole first: the link is made only if they are copies of each other. */
  readonly reads: readonly string[];
  readonly reason: string;
  /** What was made of what the timeline tells of it; null where it was linked before. */
  readonly verdict: Verdict | null;
  /** How it was matched, what keeps it from being matched, or what was looked for: a sentence or two. */
  readonly why: string;
}

export interface RelinkGroup {
  readonly key: string;
  readonly state: LinkState;
  readonly title: string;
  readonly explains: string;
  readonly from: Place | null;
  readonly to: Place | null;
  readonly rows: readonly RelinkRow[];
  /** Of its rows: how many there are, would be linked now, were found at all, and are proven or not. */
  readonly count: number;
  readonly chosen: number;
  readonly findable: number;
  readonly proven: number;
  readonly offered: number;
  /** Of these another file stands under the linked name. */
  readonly standing: number;
}

type Reason = Pick<RelinkGroup, 'key' | 'state' | 'title' | 'explains' | 'from' | 'to'>;

/** What a reason goes by: not what is chosen. */
type Reasoned = Pick<RelinkRow, 'state' | 'oldPlace' | 'matches' | 'verdict'>;

export function reasonKey(row: Reasoned, stock: StockView): string {
  return describe(row, stock).key;
}

export function isFindable({ matches: [best] }: Pick<RelinkRow, 'matches'>): boolean {
  return best !== undefined && best.strength !== 'offered';
}

export function groupRows(rows: readonly RelinkRow[], stock: StockView): RelinkGroup[] {
  const gathered = new Map<string, { reason: Reason; rows: RelinkRow[] }>();
  for (const row of rows) {
    const reason = describe(row, stock);
    const entry = gathered.get(reason.key);
    if (entry) entry.rows.push(row);
    else gathered.set(reason.key, { reason, rows: [row] });
  }
  const groups = [...gathered.values()].map(({ reason, rows: own }): RelinkGroup => ({
    ...reason,
    rows: own,
    count: own.length,
    chosen: own.filter((row) => row.chosen !== null).length,
    findable: own.filter(isFindable).length,
    proven: own.filter((row) => row.matches[0]?.strength === 'proven').length,
    offered: own.filter((row) => row.matches.length > 0).length,
    standing: own.filter((row) => row.matches.some((match) => match.isStanding)).length,
  }));
  const order: LinkState[] = ['missing', 'damaged', 'changed', 'unplugged', 'by-proxy', 'set-aside', 'not-read', 'present'];
  return groups.sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state) || b.rows.length - a.rows.length);
}

function describe(row: Reasoned, stock: StockView): Reason {
  const shelf = row.oldPlace ? stock.shelfName(row.oldPlace.shelfId) : null;
  const none = { from: null, to: null };
  if (row.state === 'unplugged') {
    return {
      key: `unplugged ${row.oldPlace?.shelfId}`,
      state: row.state,
      title: `${shelf} is not plugged in`,
      explains: 'These come back by themselves when the drive does. Copies found elsewhere are offered.',
      ...none,
    };
  }
  if (row.state === 'changed') {
    return {
      key: 'changed',
      state: row.state,
      title: 'Another file stands under the same name',
      explains: 'It is not the one that was linked. Take the new one if it was rendered anew, or go back to the old one.',
      ...none,
    };
  }
  if (row.state === 'damaged') {
    return {
      key: 'damaged',
      state: row.state,
      title: 'Damaged files',
      explains: 'The file that was linked is there, but not all of it can be read. Look for another copy: a backup, the card, the camera original.',
      ...none,
    };
  }
  if (row.state === 'set-aside')
    return { key: 'set aside', state: row.state, title: 'Set aside', explains: 'Known to be gone; not asked for again.', ...none };
  const best = row.matches[0];
  if (best && row.verdict === 'matched' && best.by !== null)
    return {
      key: `matched ${best.by}`,
      state: row.state,
      title: `Matched by ${best.by}`,
      explains: 'No other file fits. This is no proof: compare a few pictures before you run the plan.',
      ...none,
    };
  if (best && row.verdict === 'ambiguous')
    return { key: 'ambiguous', state: row.state, title: 'Several files match', explains: 'Compare them and choose one for each clip.', ...none };
  if (best && row.oldPlace && best.strength !== 'offered') {
    const from = { shelfId: row.oldPlace.shelfId, path: folderOf(row.oldPlace.path) };
    const to = { shelfId: best.place.shelfId, path: folderOf(best.place.path) };
    const sameFile = fileName(row.oldPlace.path) === fileName(best.place.path);
    if (sameFile) {
      const sameShelf = from.shelfId === to.shelfId;
      const title = sameShelf ? `A folder was renamed or moved on ${shelf}` : `Found on ${stock.shelfName(to.shelfId)} instead of ${shelf}`;
      return {
        key: `folder ${from.shelfId} ${from.path} ${to.shelfId} ${to.path}`,
        state: row.state,
        title,
        explains:
          row.state === 'present'
            ? 'Nothing of it is offline: its clips read copies meanwhile. Relink them to make this the place of their files.'
            : '',
        from,
        to,
      };
    }
    return { key: 'renamed files', state: row.state, title: 'Files were renamed', explains: 'The same content stands under another name.', ...none };
  }
  if (best)
    return {
      key: 'candidates',
      state: row.state,
      title: row.oldPlace ? 'Something like it was found' : 'Files to compare',
      explains: 'Something speaks against each file. Compare and choose.',
      ...none,
    };
  return {
    key: 'nowhere',
    state: row.state,
    title: 'No match',
    explains: 'Look in a folder that is not on the list yet, plug in a drive, or set the clips aside.',
    ...none,
  };
}
