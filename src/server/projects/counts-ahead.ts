/** How the source timecode of a file would be counted, before anything comes in. */
import type { TimelineFile } from '../../core/interchange/read-timeline-file';
import { countAtFirst } from '../../core/interchange/timeline-formats';
import { eventsAtOtherRates, settleCounts, withoutSettled } from '../../core/project/count-events';
import type { Finding } from '../../core/words/finding';
import type { AddressBook } from './address-book';
import type { NamedSources } from './bring-in';
import type { Matches } from './match-sources';

/** What will be said of a file as it comes in: what its reader found, and how its sources are counted. */
export function countsAhead(book: AddressBook, file: TimelineFile, named: NamedSources, matches: Matches | null): Finding[] {
  let said: readonly Finding[] = file.findings;
  const counted = file.timelines.flatMap(({ timeline }, index) => {
    const sources = named.timelines[index]!;
    const files = eventsAtOtherRates(timeline, (event) => {
      const source = sources[event.index];
      const place = source ? book.placeOf(source.reference) : null;
      const taken = source ? matches?.decisions.get(source.key)?.taken?.candidate : undefined;
      const item = (place ? (book.itemAt(place) ?? book.goneAt(place)) : null) ?? taken;
      return source && item ? { key: source.key, facts: item.facts } : null;
    });
    const { counts, findings } = settleCounts(files, null, countAtFirst(file.format));
    said = withoutSettled(said, timeline, (event) => counts.get(event.index) === 'source');
    return [...findings];
  });
  return [...said, ...counted];
}
