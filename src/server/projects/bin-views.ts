/** Bins and clips as the screen lists them. */
import { fileName } from '../../core/media/item';
import type { Snapshot } from '../../core/planning/plan';
import { stockOf, type StockView } from '../../core/planning/stock-view';
import { allBins } from '../../core/project/bins';
import { sourceLink, sourceRendition, type Clip } from '../../core/project/clip';
import { sameRate, type Rate } from '../../core/time/rate';
import { floorToRate } from '../../core/time/convert';
import { frameToTimecode } from '../../core/time/timecode';
import type { BinClipView, BinsView } from '../api/views';
import type { Catalogue } from '../catalogue/catalogue';
import type { ProjectLines } from './project-lines';
import { clipViews } from './project-views';

export function binViews(catalogue: Catalogue, projectId: string, snapshot: Snapshot, lines: ProjectLines): BinsView {
  const counts = new Map<string, number>();
  for (const clip of snapshot.clips) counts.set(clip.binPath, (counts.get(clip.binPath) ?? 0) + 1);
  const bins = allBins({ bins: catalogue.bins.ofProject(projectId), clips: snapshot.clips });
  const stock = stockOf(snapshot);
  const byId = new Map(snapshot.clips.map((clip) => [clip.id, clip]));
  const { undo, redo } = catalogue.bins.next(projectId);
  return {
    bins: bins.map((bin) => ({ ...bin, clips: counts.get(bin.path) ?? 0 })),
    clips: clipViews(catalogue, projectId, lines).map((view) => ({ ...view, ...clipWords(byId.get(view.id)!, snapshot, stock) })),
    undo: undo?.title ?? null,
    redo: redo?.title ?? null,
  };
}

function markLabel(frame: number | null, rate: Rate, dropFrame: boolean): string | null {
  return frame === null ? null : frameToTimecode(frame, rate, dropFrame);
}

function clipWords(clip: Clip, snapshot: Snapshot, stock: StockView): Omit<BinClipView, keyof ReturnType<typeof clipViews>[number]> {
  const links = sourceRendition(clip)?.links ?? [];
  const link = sourceLink(clip);
  const item = link?.place ? stock.itemAt(link.place) : null;
  const facts = item?.facts;
  const { rate, dropFrame } = snapshot.project;
  const marks = clip.marks;
  const length = facts?.durationFrames ?? link?.expected.durationFrames ?? null;
  const own = facts?.rate ?? link?.expected.rate ?? null;
  return {
    note: clip.note,
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
    poster: item && facts?.video ? { itemId: item.id, frame: Math.floor((facts.durationFrames ?? 0) / 3) } : null,
    length: length === null || own === null ? '' : frameToTimecode(floorToRate(length, own, rate), rate, dropFrame),
  };
}
