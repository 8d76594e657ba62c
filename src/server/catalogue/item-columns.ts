/** What of an item stands in columns of its own, so that the stock can be asked instead of read. */
import { codecName } from '../../core/media/codec-traits';
import { fileName, folderOf, type MediaFacts } from '../../core/media/item';
import { tellsOf } from '../../core/matching/tells';
import { nameKey, sortKey } from '../../core/naming/sort-key';
import { rateAsNumber } from '../../core/time/rate';

/** Names of the columns, in the order of itemColumns. */
export const ITEM_COLUMNS = [
  'name_key',
  'path_key',
  'folder',
  'sort_path',
  'kind',
  'codec',
  'container',
  'width',
  'fps',
  'frames',
  'seconds',
  'start_frame',
  'start_seconds',
  'reel_key',
  'channels',
  'depth',
  'alpha',
  'material_id',
  'words',
  'tells',
] as const;

/** Rows of earlier versions may lack facts. */
export function itemColumns(path: string, facts: MediaFacts, originalName: string | null = null): (string | number | null)[] {
  const { video, audio } = facts;
  const sound = audio[0];
  const perSecond = facts.rate ? rateAsNumber(facts.rate) : null;
  const seconds = (count: number | null | undefined) => (typeof count !== 'number' || perSecond === null ? null : count / perSecond);
  const codec = video?.codec ?? sound?.codec ?? null;
  return [
    nameKey(fileName(path)),
    path.normalize('NFC'),
    folderOf(path),
    sortKey(path),
    facts.kind,
    codec,
    facts.container ?? null,
    video?.width ?? null,
    facts.kind === 'audio' ? null : perSecond,
    facts.durationFrames ?? null,
    seconds(facts.durationFrames),
    facts.startFrame ?? null,
    seconds(facts.startFrame),
    facts.reel?.toLowerCase() ?? null,
    audio.reduce((sum, stream) => sum + stream.channels, 0),
    video?.bitDepth ?? sound?.bitDepth ?? null,
    video?.alpha ? 1 : 0,
    facts.materialId ?? null,
    itemWords(path, facts, codec, originalName),
    JSON.stringify(tellsOf({ place: { path }, facts, ...(originalName === null ? {} : { originalName }) })),
  ];
}

function itemWords(path: string, facts: MediaFacts, codec: string | null, originalName: string | null): string {
  const words = [path.normalize('NFC'), originalName?.normalize('NFC'), facts.reel, codec, codec && codecName(codec), facts.kind];
  return words
    .filter((word) => !!word)
    .join(' ')
    .toLowerCase();
}
