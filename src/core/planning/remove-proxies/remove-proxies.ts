/** Proxies or mezzanines that go, files and all: which, how many bytes, and what would be offline without them. */
import { placeKey, type Item, type Place } from '../../media/item';
import { clipState, isOffline, isOfPart, linkState, renditionState, type Clip, type LinkState, type Rendition } from '../../project/clip';
import { fittingOf, isOlder, misfits } from '../../rendition/fits';
import { notes, warns, type Finding } from '../../words/finding';
import { fewNames, plural, oneOrMany } from '../../words/figures';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { linkStep, precondition, type CatalogueChange, type RemoveStep } from '../plan/step';
import { stockOf, type StockView } from '../plan/stock-view';
import { clipsInScope } from '../taking/clip-scope';
import { knownReaders, lostClips, readersByPlace, type AskReaders, type FileReader } from '../taking/file-readers';
import type { RemoveProxiesSettings } from './settings';

/** Links that go when their files have gone; where a file was left, its link stays. */
export interface RenditionsForgotten extends CatalogueChange {
  readonly type: 'renditions-forgotten';
  readonly renditions: readonly { readonly id: string; readonly place: Place | null }[];
}

export interface RemovalRow {
  readonly renditionId: string;
  readonly clipId: string;
  readonly name: string;
  readonly place: Place | null;
  readonly bytes: number;
  /** Made by somebody else, and only linked here. */
  readonly isElsewhere: boolean;
  /** The file goes with its link, the link alone does, or both stay. */
  readonly fate: 'removed' | 'unlinked' | 'stays';
  readonly why: string;
  readonly now: LinkState;
  readonly then: LinkState;
}

export interface RemovalDetail {
  readonly rows: readonly RemovalRow[];
  /** Clips that would be offline and are not now. */
  readonly goOffline: number;
  /** Names of clips of which no file would be left on any drive that is plugged in, whether they are online now or not. */
  readonly lost: readonly string[];
  /** Files made elsewhere among those chosen. */
  readonly elsewhere: number;
}

interface Removal {
  readonly clip: Clip;
  readonly rendition: Rendition;
}

export function planRemoveProxies(snapshot: Snapshot, settings: RemoveProxiesSettings, ask: AskReaders): Plan<RemovalDetail> {
  const stock = stockOf(snapshot);
  const own = removals(snapshot, settings, stock);
  const going = new Set(own.map(({ rendition }) => rendition.id));
  const stays = ({ id }: Rendition) => !going.has(id);
  const after = new Map(own.map(({ clip }) => [clip.id, { ...clip, renditions: clip.renditions.filter(stays), partCopies: (clip.partCopies ?? []).filter(stays) }])); // prettier-ignore
  const readers = readersByPlace(ask(own.flatMap(({ rendition }) => rendition.links[0]?.place ?? [])));
  const projectId = snapshot.project.id;
  const goingClips = new Set(own.map(({ clip }) => clip.id));
  /** Somebody whose link stays, or who knows the file as a copy and has no other. */
  const otherReader = (place: Place | null): string | undefined => {
    const other = (readers.get(place ? placeKey(place) : '') ?? []).find((reader) =>
      reader.isLinked ? !going.has(reader.renditionId) : reader.losesLast && !goingClips.has(reader.clipId),
    );
    return other && (other.projectId === projectId ? `the clip "${other.clip}"` : `the project "${other.project}"`);
  };
  const rows = own.map(({ clip, rendition }): RemovalRow => {
    const place = rendition.links[0]?.place ?? null;
    const item = place ? stock.itemAt(place) : null;
    const now = clipState(clip, stock);
    const fate = fateOf(rendition, stock, otherReader(place), settings.elsewhere === true);
    const then = fate.fate === 'stays' ? now : clipState(after.get(clip.id)!, stock);
    return {
      renditionId: rendition.id,
      clipId: clip.id,
      name: clip.name,
      place,
      bytes: item?.sizeBytes ?? 0,
      isElsewhere: !rendition.made?.presetId,
      ...fate,
      now,
      then,
    };
  });
  const removed = new Map<string, Item>();
  for (const { fate, place } of rows) if (fate === 'removed') removed.set(placeKey(place!), stock.itemAt(place!)!);
  const gone = rows.filter(({ fate }) => fate !== 'stays');
  const goOffline = new Set(rows.filter(({ now, then }) => isOffline(then) && !isOffline(now)).map(({ clipId }) => clipId)).size;
  const readersLeft = readersByPlace(ask([...removed.values()].map(({ place }) => place)));
  const lost = lostClips(readersLeft);
  const bytes = [...removed.values()].reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const all = new Map(rows.map((row) => [row.place ? placeKey(row.place) : row.renditionId, row.bytes]));
  const words = settings.rendition === 'proxy' ? 'proxies' : 'mezzanines';
  const blocked =
    gone.length === 0
      ? `Nothing of what is chosen can be removed.`
      : goOffline + lost.length > 0 && !settings.confirmed
        ? lost.length > 0
          ? 'Read which clips lose their last file, then tick the box.'
          : 'Read what goes offline, then tick the box.'
        : null;
  return {
    kind: 'remove-proxies',
    title: `Remove ${words}`,
    projectId: snapshot.project.id,
    headline: { value: bytes, of: [...all.values()].reduce((sum, own) => sum + own, 0), unit: 'bytes', words: `of ${words}` },
    lines: [
      { label: 'Files removed', files: removed.size, bytes },
      ...(gone.length > 0 ? [{ label: 'Clips that lose one', clips: new Set(gone.map(({ clipId }) => clipId)).size }] : []),
      { label: 'Clips that go offline', clips: goOffline },
      ...(lost.length > 0 ? [{ label: 'Clips that lose their last file', clips: lost.length }] : []),
      { label: 'Sources', text: 'untouched' },
    ],
    fills: [],
    findings: removalFindings(rows, goOffline, lost),
    steps: blocked
      ? []
      : [
          ...[...removed.values()].map((item) => removeStep(item, readersLeft.get(placeKey(item.place)) ?? [])),
          linkStep<RenditionsForgotten>(1, 'not linked any more', {
            type: 'renditions-forgotten',
            renditions: gone.map(({ renditionId, place, fate }) => ({ id: renditionId, place: fate === 'removed' ? place : null })),
          }),
        ],
    blocked,
    detail: { rows, goOffline, lost, elsewhere: rows.filter(({ isElsewhere }) => isElsewhere).length },
  };
}

function removals(snapshot: Snapshot, { scope, rendition: kind, which }: RemoveProxiesSettings, stock: StockView): Removal[] {
  return clipsInScope(snapshot, scope).flatMap((clip) => {
    const source = clip.renditions.find((rendition) => rendition.kind === 'source') ?? null;
    const isSpare = source !== null && renditionState(source, stock) === 'present';
    const whole = clip.renditions.filter((rendition) => which === 'all' || (which === 'spare' ? isSpare : isUnfit(rendition, source, stock)));
    const ofParts = (clip.partCopies ?? []).filter((rendition) => {
      const part = clip.parts?.find((own) => isOfPart(rendition, own));
      const madeOf = part ? { id: part.id, kind: 'source' as const, links: part.links } : null;
      return (
        which === 'all' ||
        (which === 'spare' ? isSpare || (madeOf !== null && renditionState(madeOf, stock) === 'present') : isUnfit(rendition, madeOf, stock))
      );
    });
    return [...whole, ...ofParts].filter((rendition) => rendition.kind === kind).map((rendition) => ({ clip, rendition }));
  });
}

function isUnfit(rendition: Rendition, source: Rendition | null, stock: StockView): boolean {
  const itemOf = ({ links }: Rendition) => (links[0]?.place ? stock.itemAt(links[0].place) : null);
  const [item, origin] = [itemOf(rendition), source && itemOf(source)];
  if (rendition.made?.burnIn) return true;
  return (
    item !== null &&
    origin !== null &&
    (misfits(origin.facts, item.facts, fittingOf(rendition)).length > 0 || isOlder(origin, item, rendition.made ?? null))
  );
}

/** `reader`: who else reads the file. */
function fateOf({ links, made }: Rendition, stock: StockView, reader: string | undefined, elsewhere: boolean): Pick<RemovalRow, 'fate' | 'why'> {
  const [first] = links;
  if (!first?.place) return { fate: 'unlinked', why: 'no file is known' };
  const state = linkState(first, stock);
  if (reader !== undefined) return { fate: 'unlinked', why: `its file stays: ${reader} reads it` };
  if (state === 'missing') return { fate: 'unlinked', why: 'its file is gone' };
  if (state === 'unplugged') return { fate: 'stays', why: 'its shelf is not plugged in' };
  if (state === 'changed') return { fate: 'stays', why: 'another file stands there' };
  if (stock.itemAt(first.place)!.facts.sequence) return { fate: 'stays', why: 'numbered frames are not removed from here' };
  if (!made?.presetId && !elsewhere) return { fate: 'unlinked', why: 'its file stays: it was made elsewhere' };
  return { fate: 'removed', why: '' };
}

function removeStep(item: Item, readers: readonly FileReader[]): RemoveStep {
  return {
    action: 'remove',
    phase: 0,
    from: item.place,
    to: null,
    expectedBytes: item.sizeBytes,
    bytesExact: true,
    reason: 'not needed any more',
    mustHold: precondition(item),
    sha256: item.sha256 ?? null,
    made: item.identity,
    known: knownReaders(readers),
  };
}

function removalFindings(rows: readonly RemovalRow[], goOffline: number, lost: readonly string[]): Finding[] {
  const findings: Finding[] = [];
  if (lost.length > 0)
    findings.push(
      warns(
        'last-file',
        `${fewNames(lost)} ${oneOrMany(lost.length, 'loses its', 'lose their')} last file: no other one of ${oneOrMany(lost.length, 'it', 'them')} is on a drive that is plugged in.`,
        'Plug in the drive with the source first, or keep these.',
      ),
    );
  if (goOffline > 0)
    findings.push(
      warns('goes-offline', `${plural(goOffline, 'clip goes', 'clips go')} offline: nothing else of ${oneOrMany(goOffline, 'it', 'them')} is read.`, 'They come back when their sources do.'), // prettier-ignore
    );
  const held = new Map<string, number>();
  for (const { fate, why } of rows) if (fate === 'stays') held.set(why, (held.get(why) ?? 0) + 1);
  for (const [why, count] of held) findings.push(warns('stays', `${plural(count, 'stays', 'stay')}: ${why}.`));
  const shared = rows.filter(({ fate, why }) => fate === 'unlinked' && why.endsWith('reads it')).length;
  if (shared > 0) findings.push(notes('file-stays', `${plural(shared, 'file stays', 'files stay')} on the shelf: others read ${oneOrMany(shared, 'it', 'them')}.`)); // prettier-ignore
  if (rows.some(({ fate }) => fate === 'removed'))
    findings.push(notes('not-undone', 'An undo cannot bring removed files back. They can be made again as long as their sources are there.'));
  return findings;
}
