/** A list does not state its rate: what its files run at is proposed where that is another. */
import { formatRate, sameRate, type Rate } from '../time/rate';
import type { Decision } from './decide';
import { nameRank } from './name-likeness';

export interface RateProposal {
  readonly rate: Rate;
  /** Sources whose best file runs at it, and all that have a file of their name. */
  readonly files: number;
  readonly of: number;
}

/** Null where most files run at the rate that the list is read at, or at no rate in particular. */
export function proposedRate(decisions: Iterable<Decision>, readAt: Rate): RateProposal | null {
  const counts = new Map<string, { rate: Rate; files: number }>();
  let of = 0;
  for (const { order } of decisions) {
    const best = order.find(({ name, candidate }) => nameRank(name) > 0 && candidate.facts.rate !== null && candidate.facts.kind === 'video');
    const rate = best?.candidate.facts.steadyRate === false ? null : (best?.candidate.facts.rate ?? null);
    if (!rate) continue;
    of++;
    const known = counts.get(formatRate(rate));
    if (known) known.files++;
    else counts.set(formatRate(rate), { rate, files: 1 });
  }
  const [most] = [...counts.values()].sort((a, b) => b.files - a.files);
  return most && most.files * 2 > of && !sameRate(most.rate, readAt) ? { ...most, of } : null;
}
