/** Sources that bear the name of one, or its reel and timecode, on every shelf of the list. */
import { nameKey } from '../../core/naming/sort-key';
import type { Cards } from '../../core/media/card';
import { placeKey, type Item } from '../../core/media/item';
import type { AskTwins, Twinned } from '../../core/planning/taking/twins';
import type { Db } from './db';
import { itemFromRaw, OWN_COLUMNS, type RawItem } from './item-row';

type RawTwin = RawItem & { linked: number };

/** How many of a name or a reel are held against a file. */
const MOST = 40;

/** What clips of any project have as their source, as it was shot: no part of one, and nothing that took its place. */
const IS_LINKED = `EXISTS (SELECT 1 FROM links l JOIN renditions r ON r.id = l.rendition_id
  WHERE l.shelf_id = i.shelf_id AND l.path = i.path AND r.kind = 'source' AND r.part IS NULL AND r.made IS NULL)`;
const IS_STANDING = `i.gone_at IS NULL AND i.kind IN ('video', 'sequence') AND i.shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL)`;

/** Asked once for each source; copies of it are none. What lies on a camera card is a source too. */
export function twinsIn(db: Db, cards: Cards): AskTwins {
  const byName = db.prepare(`SELECT ${OWN_COLUMNS}, ${IS_LINKED} AS linked FROM items i WHERE i.name_key = ? AND ${IS_STANDING} LIMIT ${MOST}`);
  const byReel = db.prepare(
    `SELECT ${OWN_COLUMNS}, ${IS_LINKED} AS linked FROM items i WHERE i.reel_key = @reel AND i.start_seconds < @end AND i.start_seconds + coalesce(i.seconds, 0) > @start AND ${IS_STANDING} LIMIT ${MOST}`,
  );
  const known = new Map<string, readonly Item[]>();
  return (source: Twinned) => {
    const key = `${source.place ? placeKey(source.place) : ''} ${source.name} ${source.reel ?? ''} ${source.startSeconds ?? ''}`;
    const twins = known.get(key) ?? twinsOf(source);
    known.set(key, twins);
    return twins;
  };

  function twinsOf({ name, reel, startSeconds, seconds, fingerprint }: Twinned): readonly Item[] {
    const found = (name === '' ? [] : byName.all(nameKey(name))) as RawTwin[];
    if (reel !== null && startSeconds !== null)
      found.push(...(byReel.all({ reel: nameKey(reel), start: startSeconds, end: startSeconds + Math.max(seconds ?? 0, 0.001) }) as RawTwin[]));
    const items = new Map(found.filter(({ linked, path }) => linked === 1 || cards.around(path) !== null).map((raw) => [raw.id, itemFromRaw(raw)])); // prettier-ignore
    return [...items.values()].filter((item) => fingerprint === null || item.fingerprint !== fingerprint);
  }
}
