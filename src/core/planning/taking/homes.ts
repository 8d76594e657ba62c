/** What a plan says and does where new files become the home of their kind. */
import { samePlace, type Place } from '../../media/item';
import { RENDITION_KINDS, type RenditionKind } from '../../rendition/read-order';
import type { Homes } from '../../rendition/homes';
import { notes, warns, type Finding } from '../../words/finding';
import { shelfNameIn, type Snapshot } from '../plan/snapshot';
import { linkStep, type CatalogueChange, type LinkStep } from '../plan/step';

/** Kinds get another home. */
export interface HomesChange extends CatalogueChange {
  readonly type: 'homes';
  readonly homes: Homes;
}

export const KIND_NOUNS: Readonly<Record<RenditionKind, string>> = {
  source: 'Sources',
  mezzanine: 'Mezzanines',
  proxy: 'Proxies',
  finished: 'Finished pictures',
};

/** `roots`: folders that become homes, by kind. Nothing to do or to say of those that are it already. */
export function newHomes(
  snapshot: Snapshot,
  roots: Readonly<Partial<Record<RenditionKind, Place | null>>>,
  phase: number,
): { readonly steps: readonly LinkStep[]; readonly findings: readonly Finding[] } {
  const now = snapshot.project.homes ?? {};
  const homes: Partial<Record<RenditionKind, Place>> = {};
  const findings: Finding[] = [];
  for (const kind of RENDITION_KINDS) {
    const [next, old] = [roots[kind], now[kind]];
    // The root of a shelf is nobody's home: all that is on it would count as being there.
    if (!next || next.path === '' || samePlace(next, old ?? null)) continue;
    homes[kind] = next;
    const words = (place: Place) => `${shelfNameIn(snapshot, place.shelfId)} / ${place.path}`;
    // Where a home moves, what stands in the old one is no longer at home.
    findings.push((old ? warns : notes)('home', `${KIND_NOUNS[kind]} are at home in ${words(next)} then${old ? `, no longer in ${words(old)}` : ''}.`, old ? 'What stands there stays, and can be brought by taking it along.' : undefined)); // prettier-ignore
  }
  if (findings.length === 0) return { steps: [], findings };
  return { steps: [linkStep<HomesChange>(phase, 'where they are at home', { type: 'homes', homes })], findings };
}

export function isBelow(place: Place, root: Place): boolean {
  return place.shelfId === root.shelfId && (root.path === '' || place.path.startsWith(`${root.path}/`));
}
