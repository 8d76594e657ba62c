/** What a look at a file tells of its media, before anything comes in. */
import type { Decision, Verdict } from '../../core/matching/decide';
import { againstWords, matchedBy } from '../../core/matching/judge';
import { decisionWords } from '../../core/matching/match-words';
import { proposedRate, type RateProposal } from '../../core/matching/rate-proposal';
import type { Source } from '../../core/matching/sources';
import type { Place } from '../../core/media/item';
import type { MatchedBy } from '../../core/project/clip';
import type { Rate } from '../../core/time/rate';
import type { MatchedSources } from './bring-in';

/** How many sources are listed, those that need a look first. */
const MOST_ROWS = 400;
const MOST_FILES = 3;

export interface MatchedFile {
  readonly itemId: string;
  readonly place: Place;
  readonly shelf: string;
  readonly attached: boolean;
  /** What speaks against it, in words; empty where nothing does. */
  readonly against: string;
}

export interface MatchRow {
  readonly name: string;
  readonly verdict: Verdict;
  readonly by: MatchedBy | null;
  readonly why: string;
  readonly files: readonly MatchedFile[];
}

export interface MatchSummary {
  readonly sources: number;
  /** Whose address leads to a file, or to a shelf that is unplugged. */
  readonly linked: number;
  readonly matched: number;
  readonly ambiguous: number;
  readonly doubtful: number;
  readonly notFound: number;
  /** Where the matched files stand: by shelf and by how they were matched, the most first. */
  readonly groups: readonly { readonly shelf: string; readonly by: MatchedBy; readonly count: number }[];
  readonly rows: readonly MatchRow[];
  readonly rate: RateProposal | null;
}

const ORDER: readonly Verdict[] = ['ambiguous', 'doubtful', 'no match', 'matched'];

/** `readAt`: the rate that a list was read at; null where the file states its own. */
export function matchSummary(matches: MatchedSources, readAt: Rate | null): MatchSummary {
  const { open, linked, decisions, looked } = matches;
  const decided = open.map((source) => ({ source, decision: decisions.get(source.key)! }));
  const count = (verdict: Verdict) => decided.filter(({ decision }) => decision.verdict === verdict).length;
  const groups = new Map<string, { shelf: string; by: MatchedBy; count: number }>();
  for (const { taken } of decisions.values()) {
    if (!taken) continue;
    const [shelf, by] = [looked.shelfName(taken.candidate.place.shelfId), matchedBy(taken) ?? 'file name'];
    const known = groups.get(`${shelf} ${by}`);
    if (known) known.count++;
    else groups.set(`${shelf} ${by}`, { shelf, by, count: 1 });
  }
  const listed = [...decided].sort((a, b) => ORDER.indexOf(a.decision.verdict) - ORDER.indexOf(b.decision.verdict)).slice(0, MOST_ROWS);
  return {
    sources: open.length + linked,
    linked,
    matched: count('matched'),
    ambiguous: count('ambiguous'),
    doubtful: count('doubtful'),
    notFound: count('no match'),
    groups: [...groups.values()].sort((a, b) => b.count - a.count),
    rows: listed.map(({ source, decision }) => rowOf(source, decision, matches)),
    rate: readAt ? proposedRate(decisions.values(), readAt) : null,
  };
}

function rowOf({ told, event, reference }: Source, decision: Decision, { looked }: MatchedSources): MatchRow {
  const shown = decision.taken ? [decision.taken] : decision.order;
  const best = shown[0];
  return {
    name: reference.name || event.name || told.names[0] || told.reels[0] || 'without a name',
    verdict: decision.verdict,
    by: best ? matchedBy(best) : null,
    why: decisionWords(told, decision, looked),
    files: shown.slice(0, MOST_FILES).map((judged) => ({
      itemId: judged.candidate.id,
      place: judged.candidate.place,
      shelf: looked.shelfName(judged.candidate.place.shelfId),
      attached: looked.isAttached(judged.candidate.place.shelfId),
      against: againstWords(judged, told),
    })),
  };
}
