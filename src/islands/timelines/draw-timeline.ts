/** Drawing of a timeline on a canvas: only what lies in view is touched, so any number of events stays smooth. */
import { frameToTimecode } from '../../core/time/timecode';
import { nominalFps } from '../../core/time/rate';
import type { DrawnEvent, DrawnTrack, TimelineView } from '../../server/api/views';

export const RULER_PX = 24;
export const TRACK_PX = { video: 44, audio: 30, other: 24 } as const;
export const LABEL_PX = 34;

export interface Colours {
  readonly [name: string]: string;
}

export interface View {
  readonly widthPx: number;
  readonly heightPx: number;
  /** First frame at the left edge, may be fractional while scrolling. */
  readonly firstFrame: number;
  readonly pxPerFrame: number;
}

/** Tracks from the top: picture tracks with the highest first, then sound in order, as layers lie. */
export function trackOrder(tracks: readonly DrawnTrack[]): DrawnTrack[] {
  const video = tracks.filter((track) => track.kind === 'video').reverse();
  return [...video, ...tracks.filter((track) => track.kind !== 'video')];
}

export function drawingHeight(tracks: readonly DrawnTrack[]): number {
  return RULER_PX + tracks.reduce((sum, track) => sum + TRACK_PX[track.kind] + 3, 0) + 4;
}

export function draw(
  context: CanvasRenderingContext2D,
  timeline: TimelineView,
  view: View,
  colours: Colours,
  font: string,
  selected: number | null,
  highlighted: ReadonlySet<string> | null,
): void {
  context.clearRect(0, 0, view.widthPx, view.heightPx);
  drawRuler(context, timeline, view, colours, font);
  let top = RULER_PX;
  for (const track of trackOrder(timeline.tracks)) {
    const height = TRACK_PX[track.kind];
    context.fillStyle = colours['--paper-2']!;
    context.fillRect(LABEL_PX, top, view.widthPx, height);
    drawEvents(context, track, top, height, view, colours, font, selected, highlighted);
    drawOverlays(context, track, top, height, view, colours, font);
    context.fillStyle = colours['--paper']!;
    context.fillRect(0, top, LABEL_PX, height);
    context.fillStyle = colours['--soft']!;
    context.font = `600 12px ${font}`;
    context.textBaseline = 'middle';
    context.fillText(track.name.slice(0, 4), 8, top + height / 2);
    top += height + 3;
  }
}

function toPx(frame: number, view: View): number {
  return LABEL_PX + (frame - view.firstFrame) * view.pxPerFrame;
}

/** Ticks at a step that leaves room for a timecode. */
function drawRuler(context: CanvasRenderingContext2D, timeline: TimelineView, view: View, colours: Colours, font: string): void {
  const fps = nominalFps(timeline.rate);
  const steps = [1, 5, fps, fps * 2, fps * 5, fps * 10, fps * 30, fps * 60, fps * 300, fps * 600, fps * 3600];
  const step = steps.find((frames) => frames * view.pxPerFrame >= 96) ?? fps * 3600;
  context.font = `11px ${font}`;
  context.textBaseline = 'alphabetic';
  const last = view.firstFrame + view.widthPx / view.pxPerFrame;
  for (let frame = Math.ceil(view.firstFrame / step) * step; frame <= last; frame += step) {
    const x = Math.round(toPx(frame, view)) + 0.5;
    context.strokeStyle = colours['--line']!;
    context.beginPath();
    context.moveTo(x, 4);
    context.lineTo(x, view.heightPx);
    context.stroke();
    context.fillStyle = colours['--soft']!;
    context.fillText(frameToTimecode(timeline.startFrame + frame, timeline.rate, timeline.dropFrame), x + 4, 15);
  }
}

const FILLS: Record<DrawnEvent['state'], [string, string]> = {
  present: ['--spruce-2', '--spruce'],
  unplugged: ['--ochre-2', '--ochre'],
  missing: ['--brick-2', '--brick'],
  changed: ['--brick-2', '--brick'],
  'set-aside': ['--sunk', '--soft'],
  'by-proxy': ['--plum-2', '--plum'],
  'made-here': ['--sunk', '--soft'],
};

function drawEvents(
  context: CanvasRenderingContext2D,
  track: DrawnTrack,
  top: number,
  height: number,
  view: View,
  colours: Colours,
  font: string,
  selected: number | null,
  highlighted: ReadonlySet<string> | null,
): void {
  const last = view.firstFrame + view.widthPx / view.pxPerFrame;
  for (const event of track.events) {
    if (event.start > last || event.start + event.durationFrames < view.firstFrame) continue;
    const x = toPx(event.start, view);
    const width = Math.max(1, event.durationFrames * view.pxPerFrame - 1);
    const [fill, edge] = FILLS[event.state];
    context.globalAlpha = (event.enabled && track.enabled ? 1 : 0.45) * (highlighted && !(event.clipId && highlighted.has(event.clipId)) ? 0.3 : 1);
    context.fillStyle = colours[fill]!;
    context.fillRect(x, top, width, height);
    context.fillStyle = colours[edge]!;
    context.fillRect(x, top, Math.min(3, width), height);
    if (event.index === selected) {
      context.strokeStyle = colours['--ink']!;
      context.lineWidth = 2;
      context.strokeRect(x + 1, top + 1, Math.max(1, width - 2), height - 2);
      context.lineWidth = 1;
    }
    if (width > 26) drawLabel(context, event, x, top, width, height, colours, font);
    context.globalAlpha = 1;
  }
}

function drawLabel(
  context: CanvasRenderingContext2D,
  event: DrawnEvent,
  x: number,
  top: number,
  width: number,
  height: number,
  colours: Colours,
  font: string,
): void {
  const y = top + (height > 36 ? 14 : height / 2);
  const left = Math.max(x, LABEL_PX) + 9;
  context.save();
  context.beginPath();
  context.rect(x, top, width - 3, height);
  context.clip();
  const [, edge] = FILLS[event.state];
  drawSign(context, event.state, left + 3, y, colours[edge]!);
  context.fillStyle = colours['--ink']!;
  context.font = `12px ${font}`;
  context.textBaseline = 'middle';
  context.fillText(event.name, left + 12, y);
  if (height > 36 && event.speed !== 1) {
    context.fillStyle = colours['--dusk']!;
    context.font = `600 11px ${font}`;
    context.fillText(event.speed === 0 ? 'held' : `${Math.round(event.speed * 1000) / 10} %`, left, top + 32);
  }
  context.restore();
}

/** The signs of the icon set, small: disc, dashed ring, cross, not-equal, dash, half disc. */
function drawSign(context: CanvasRenderingContext2D, state: DrawnEvent['state'], x: number, y: number, colour: string): void {
  context.strokeStyle = context.fillStyle = colour;
  context.lineWidth = 1.5;
  context.beginPath();
  if (state === 'present' || state === 'by-proxy' || state === 'unplugged') {
    if (state === 'unplugged') context.setLineDash([2, 1.6]);
    context.arc(x, y, 3.6, 0, Math.PI * 2);
    if (state === 'present') context.fill();
    context.stroke();
    context.setLineDash([]);
    if (state === 'by-proxy') {
      context.beginPath();
      context.arc(x, y, 3.6, -Math.PI / 2, Math.PI / 2);
      context.fill();
    }
  } else {
    const lines: Record<string, number[][]> = {
      missing: [[-3, -3, 3, 3], [3, -3, -3, 3]], // prettier-ignore
      changed: [[-4, -1.6, 4, -1.6], [-4, 1.6, 4, 1.6], [2.4, -4, -2.4, 4]], // prettier-ignore
    };
    for (const [x1, y1, x2, y2] of lines[state] ?? [[-4, 0, 4, 0]]) {
      context.moveTo(x + x1!, y + y1!);
      context.lineTo(x + x2!, y + y2!);
    }
    context.stroke();
  }
  context.lineWidth = 1;
}

/** Transitions as a bridge over the cut, nested timelines as a bracket around their events. */
function drawOverlays(
  context: CanvasRenderingContext2D,
  track: DrawnTrack,
  top: number,
  height: number,
  view: View,
  colours: Colours,
  font: string,
): void {
  for (const transition of track.transitions) {
    const [x, end] = [toPx(transition.start, view), toPx(transition.end, view)];
    if (end < 0 || x > view.widthPx) continue;
    context.fillStyle = colours['--dusk-2']!;
    context.strokeStyle = colours['--dusk']!;
    context.beginPath();
    context.moveTo(x, top + height);
    context.lineTo((x + end) / 2, top + height - 12);
    context.lineTo(end, top + height);
    context.closePath();
    context.fill();
    context.stroke();
  }
  context.strokeStyle = colours['--ink']!;
  for (const nested of track.nested) {
    const [x, end] = [toPx(nested.start, view), toPx(nested.end, view)];
    if (end < 0 || x > view.widthPx) continue;
    context.strokeRect(x + 0.5, top + 0.5, end - x - 1.5, height - 1);
    if (height <= 36 || end - x <= 60) continue;
    context.font = `600 11px ${font}`;
    const width = Math.min(end - x - 10, context.measureText(nested.name).width + 10);
    context.fillStyle = colours['--paper']!;
    context.fillRect(x + 4, top + height - 17, width, 14);
    context.fillStyle = colours['--ink']!;
    context.fillText(nested.name, x + 9, top + height - 10, width - 8);
  }
}

/** The event under a point of the canvas. */
export function eventAt(timeline: TimelineView, view: View, xPx: number, yPx: number): DrawnEvent | null {
  let top = RULER_PX;
  for (const track of trackOrder(timeline.tracks)) {
    const height = TRACK_PX[track.kind];
    if (yPx >= top && yPx < top + height) {
      const frame = view.firstFrame + (xPx - LABEL_PX) / view.pxPerFrame;
      return track.events.find((event) => frame >= event.start && frame < event.start + event.durationFrames) ?? null;
    }
    top += height + 3;
  }
  return null;
}
