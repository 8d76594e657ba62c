/** Clips as the screen lists them: a window of them, filtered and sorted. */
import { fileName } from '../../core/media/item';
import { byName } from '../../core/naming/by-name';
import type { Snapshot } from '../../core/planning/plan/snapshot';
import { stockOf, type StockView } from '../../core/planning/plan/stock-view';
import { isInside } from '../../core/project/bins';
import {
  clipState,
  isExpected,
  isOffline,
  LINK_STATES,
  linkState,
  sourceLink,
  sourceRendition,
  type Clip,
  type LinkState,
} from '../../core/project/clip';
import { floorToRate } from '../../core/time/convert';
import { sameRate, type Rate } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';
import type { ClipView } from './views/clip';
import type { Catalogue } from '../catalogue/catalogue';
import type { ClipLine, LineLink } from '../catalogue/clip-lines';
import { filterWords, fits } from '../../core/words/filter-words';
import { cutOut, type Window, type WindowQuery } from '../../core/lists/list-window';
import type { ProjectLines } from './project-lines';
import { narrowed } from './snapshot';

export const CLIP_SORTS = ['name', 'bin', 'file', 'events', 'state'] as const;

export interface ClipQuery extends WindowQuery<(typeof CLIP_SORTS)[number]> {
  /** Clips of this bin and of bins below; empty for all. */
  readonly bin: string;
  /** A state, or `offline` for all that stand for missing media; empty for all. */
  readonly state: LinkState | 'offline' | '';
  /** These alone; null for all. */
  readonly ids: readonly string[] | null;
}

/** What a list tells of a clip before it is looked at. */
interface Listed {
  readonly line: ClipLine;
  readonly fileName: string;
  readonly state: LinkState;
  readonly events: number;
}

export function clipWindow(catalogue: Catalogue, snapshot: Snapshot, lines: ProjectLines, query: ClipQuery): Window<ClipView> {
  const counts = catalogue.timelines.eventsByClip(snapshot.project.id);
  const ids = query.ids && new Set(query.ids);
  const words = filterWords(query.filter);
  const listed = lines.clips.flatMap((line): Listed[] => {
    if ((ids && !ids.has(line.id)) || (query.bin !== '' && !isInside(line.binPath, query.bin))) return [];
    const link = sourceLink(line);
    const file = link?.expected.name || (link?.place ? fileName(link.place.path) : '');
    if (words.length > 0 && !fits(words, `${line.name} ${file} ${line.note} ${namesOf(line)}`)) return [];
    const state = clipState(line, lines);
    if (query.state !== '' && !(query.state === 'offline' ? isOffline(state) : state === query.state)) return [];
    return [{ line, fileName: file, state, events: counts.get(line.id) ?? 0 }];
  });
  const { total, rows } = cutOut(inOrder(listed, query), query);
  const shown = narrowed(catalogue, snapshot, rows.map(({ line }) => line.id)); // prettier-ignore
  const stock = stockOf(shown);
  const byId = new Map(shown.clips.map((clip) => [clip.id, clip]));
  return { total, rows: rows.map((row) => ({ ...viewOf(row), ...clipWords(byId.get(row.line.id)!, shown, stock) })) };
}

/** Every name its files have, had or came with. */
function namesOf({ renditions, parts, partCopies }: ClipLine): string {
  const links = [...renditions, ...parts, ...partCopies].flatMap((own) => own.links);
  return links.flatMap(({ names, copies = [] }) => [names, ...copies.map(({ place, cameAs }) => `${fileName(place.path)} ${cameAs}`)]).join(' ');
}

/** By name they are in order already. */
function inOrder(rows: readonly Listed[], { sort, down }: ClipQuery): readonly Listed[] {
  if (sort === 'name') return down ? [...rows].reverse() : rows;
  const compare: Record<Exclude<typeof sort, 'name'>, (a: Listed, b: Listed) => number> = {
    bin: (a, b) => byName(a.line.binPath, b.line.binPath),
    file: (a, b) => byName(a.fileName, b.fileName),
    events: (a, b) => a.events - b.events,
    state: (a, b) => LINK_STATES.indexOf(a.state) - LINK_STATES.indexOf(b.state),
  };
  const own = compare[sort];
  return [...rows].sort((a, b) => (down ? own(b, a) : own(a, b)));
}

function viewOf({ line, fileName: file, state, events }: Listed) {
  const { id, name, binPath, note, renditions, parts } = line;
  const link = sourceLink(line);
  return { id, name, binPath, note, state, fileName: file, place: link?.place ?? null, url: link?.url ?? '', renditions: renditions.map(({ kind }) => kind), events, copies: copiesOf(link), linkedAt: link?.linkedAt ?? null, parts: parts.length }; // prettier-ignore
}

/** Files with its bytes that stand on some shelf. */
function copiesOf(link: LineLink | null): number {
  if (!link) return 0;
  const isStanding = link.linkedAt ? link.isHomeStanding === true : link.item !== null && isExpected(link.item, link);
  return (link.copies?.length ?? 0) + (isStanding ? 1 : 0);
}

function markLabel(frame: number | null, rate: Rate, dropFrame: boolean): string | null {
  return frame === null ? null : frameToTimecode(frame, rate, dropFrame);
}

function clipWords(clip: Clip, snapshot: Snapshot, stock: StockView): Omit<ClipView, keyof ReturnType<typeof viewOf>> {
  const links = sourceRendition(clip)?.links ?? [];
  const link = sourceLink(clip);
  // Of a source that was never here whole, a part shows what it is.
  const place = link?.place ?? clip.parts?.find(({ links: [part] }) => linkState(part, stock) === 'present')?.links[0].place;
  const item = place ? stock.itemAt(place) : null;
  const facts = item?.facts;
  const { rate, dropFrame } = snapshot.project;
  const marks = clip.marks;
  const length = (link?.place ? facts?.durationFrames : null) ?? link?.expected.durationFrames ?? null;
  const own = facts?.rate ?? link?.expected.rate ?? null;
  return {
    colour: clip.colour,
    conform: clip.conform,
    madeBy: clip.madeBy,
    items: links.map((entry) => ({
      name: entry.expected.name || (entry.place ? fileName(entry.place.path) : entry.url),
      kind: (entry.place ? stock.itemAt(entry.place)?.facts.kind : null) ?? entry.expected.kind,
      place: entry.place,
    })),
    marks: marks && { in: markLabel(marks.inFrame, marks.rate, dropFrame), out: markLabel(marks.outFrame, marks.rate, dropFrame) },
    rateDiffers: facts?.kind === 'video' && facts.rate !== null && !sameRate(facts.rate, rate),
    matchedBy: links.find(({ expected }) => expected.matchedBy)?.expected.matchedBy ?? null,
    poster: item && facts?.video ? { itemId: item.id, frame: Math.floor((facts.durationFrames ?? 0) / 3) } : null,
    length: length === null || own === null ? '' : frameToTimecode(floorToRate(length, own, rate), rate, dropFrame),
  };
}
