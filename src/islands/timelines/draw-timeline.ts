/** Drawing of a timeline on a canvas: only what lies in view is touched, so any number of events stays smooth. */
import { frameToTimecode } from '../../core/time/timecode';
import { nominalFps } from '../../core/time/rate';
import type { DrawnEvent, DrawnNested, DrawnTrack, TimelineView } from '../../server/projects/views/timeline';
import { firstAfter, RULER_PX, type Lane } from './lanes';

export const LABEL_PX = 40;

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

/** What the drawing must know of the moment. */
export interface Scene {
  readonly timeline: TimelineView;
  readonly lanes: readonly Lane[];
  readonly open: ReadonlySet<string>;
  readonly selected: number | null;
  /** Clips that stand out; null where all do. */
  readonly highlighted: ReadonlySet<string> | null;
  /** Record frame under the pointer. */
  readonly hover: number | null;
  readonly colours: Colours;
  readonly font: string;
}

export function draw(context: CanvasRenderingContext2D, scene: Scene, view: View): void {
  const { colours, font } = scene;
  context.clearRect(0, 0, view.widthPx, view.heightPx);
  drawRuler(context, scene, view);
  for (const { track, top, height, depth, inside } of scene.lanes) {
    context.fillStyle = colours['--paper-2']!;
    if (inside) {
      const [x, end] = [toPx(inside.start, view), toPx(inside.end, view)];
      context.fillStyle = colours['--sunk']!;
      context.fillRect(x, top - 3, end - x, height + 3);
    } else {
      context.fillRect(LABEL_PX, top, view.widthPx, height);
    }
    drawEvents(context, track, top, height, scene, view);
    for (const nested of track.nested) drawNested(context, nested, top, height, scene, view);
    drawTransitions(context, track, top, height, scene, view);
    context.fillStyle = colours['--paper']!;
    context.fillRect(0, top, LABEL_PX, height);
    context.fillStyle = colours['--soft']!;
    context.font = `${depth === 0 ? 600 : 400} 12px ${font}`;
    context.textBaseline = 'middle';
    context.fillText(track.name.slice(0, 5), 8 + depth * 6, top + height / 2, LABEL_PX - 10 - depth * 6);
  }
  drawTimelineMarkers(context, scene, view);
  if (scene.hover !== null) drawHover(context, scene, view, scene.hover);
}

export function toPx(frame: number, view: View): number {
  return LABEL_PX + (frame - view.firstFrame) * view.pxPerFrame;
}

export function frameAt(xPx: number, view: View): number {
  return view.firstFrame + (xPx - LABEL_PX) / view.pxPerFrame;
}

function lastFrame(view: View): number {
  return view.firstFrame + view.widthPx / view.pxPerFrame;
}

const TICK_PX = 96;

/** Frames between two ticks: the smallest handy step that leaves room for a timecode, however long the timeline is. */
export function tickStep(fps: number, pxPerFrame: number): number {
  const handy = [1, 5, fps, fps * 2, fps * 5, fps * 10, fps * 30, fps * 60, fps * 300, fps * 600, fps * 3600];
  const step = handy.find((frames) => frames * pxPerFrame >= TICK_PX);
  return step ?? fps * 3600 * 2 ** Math.ceil(Math.log2(TICK_PX / (fps * 3600 * pxPerFrame)));
}

/** Ticks at a step that leaves room for a timecode; single frames are ticked once they are wide enough. */
function drawRuler(context: CanvasRenderingContext2D, { timeline, colours, font }: Scene, view: View): void {
  const fps = nominalFps(timeline.rate);
  const step = tickStep(fps, view.pxPerFrame);
  context.font = `11px ${font}`;
  context.textBaseline = 'alphabetic';
  const last = lastFrame(view);
  // A mark's name stands where a timecode would: the mark matters more.
  const marked = timeline.markers.map(
    (marker) => [toPx(marker.at, view), toPx(marker.at, view) + context.measureText(marker.name).width + 16] as const,
  );
  if (step > 1 && view.pxPerFrame >= 8) {
    context.fillStyle = colours['--line']!;
    for (let frame = Math.ceil(view.firstFrame); frame <= last; frame++) context.fillRect(Math.round(toPx(frame, view)), 18, 1, 6);
  }
  for (let frame = Math.ceil(view.firstFrame / step) * step; frame <= last; frame += step) {
    const x = Math.round(toPx(frame, view)) + 0.5;
    context.strokeStyle = colours['--line']!;
    context.beginPath();
    context.moveTo(x, 4);
    context.lineTo(x, view.heightPx);
    context.stroke();
    if (marked.some(([from, to]) => x + 84 > from && x < to)) continue;
    context.fillStyle = colours['--soft']!;
    context.fillText(frameToTimecode(timeline.startFrame + frame, timeline.rate, timeline.dropFrame), x + 4, 15);
  }
}

const FILLS: Record<DrawnEvent['state'], [string, string]> = {
  present: ['--spruce-2', '--spruce'],
  unplugged: ['--ochre-2', '--ochre'],
  missing: ['--brick-2', '--brick'],
  changed: ['--brick-2', '--brick'],
  damaged: ['--brick-2', '--brick'],
  'set-aside': ['--sunk', '--soft'],
  'by-proxy': ['--plum-2', '--plum'],
  'not-read': ['--sunk', '--dusk'],
  'made-here': ['--sunk', '--soft'],
};

const LABEL_FROM_PX = 26;

function drawEvents(context: CanvasRenderingContext2D, track: DrawnTrack, top: number, height: number, scene: Scene, view: View): void {
  const { events } = track;
  const last = lastFrame(view);
  let painted = -Infinity;
  for (let index = firstAfter(events, view.firstFrame); index < events.length; index++) {
    const event = events[index]!;
    if (event.start > last) break;
    const x = toPx(event.start, view);
    const end = toPx(event.start + event.durationFrames, view);
    const isSelected = event.index === scene.selected;
    // Many events to a pixel: one of them stands for all, unless it is the one in hand.
    if (end - painted < 0.75 && !isSelected) continue;
    painted = end;
    drawEvent(context, event, track.enabled, x, Math.max(1, end - x - (end - x > 3 ? 1 : 0)), top, height, isSelected, scene);
    if (event.markers && end - x > 4) drawMarkers(context, event, top, scene, view);
  }
}

function drawEvent(
  context: CanvasRenderingContext2D,
  event: DrawnEvent,
  trackEnabled: boolean,
  x: number,
  width: number,
  top: number,
  height: number,
  isSelected: boolean,
  { colours, font, highlighted }: Scene,
): void {
  const [fill, edge] = FILLS[event.state];
  const dimmed = highlighted !== null && !(event.clipId && highlighted.has(event.clipId));
  context.globalAlpha = (event.enabled && trackEnabled ? 1 : 0.45) * (dimmed ? 0.3 : 1);
  context.fillStyle = colours[fill]!;
  context.fillRect(x, top, width, height);
  context.fillStyle = colours[edge]!;
  context.fillRect(x, top, Math.min(3, width), height);
  // A retimed event has a thread along its foot.
  if (event.speed !== 1 && width > 3) drawThread(context, event.speed, x + 3, width - 3, top + height - 3, colours['--dusk']!);
  if (isSelected) {
    context.strokeStyle = colours['--ink']!;
    context.lineWidth = 2;
    context.strokeRect(x + 1, top + 1, Math.max(1, width - 2), height - 2);
    context.lineWidth = 1;
  }
  if (width > LABEL_FROM_PX) drawLabel(context, event, x, top, width, height, colours, font);
  context.globalAlpha = 1;
}

/** Held: a plain line. Slow: long dashes, fast: short ones. Varying: dots. */
function drawThread(context: CanvasRenderingContext2D, speed: number | null, x: number, width: number, y: number, colour: string): void {
  context.strokeStyle = colour;
  context.lineWidth = 2;
  context.setLineDash(speed === null ? [2, 4] : speed === 0 ? [] : Math.abs(speed) < 1 ? [10, 4] : [4, 3]);
  context.beginPath();
  context.moveTo(x, y);
  context.lineTo(x + width, y);
  context.stroke();
  context.setLineDash([]);
  context.lineWidth = 1;
}

export function speedWords(speed: number | null): string {
  if (speed === null) return 'varies';
  return speed === 0 ? 'held' : `${Math.round(speed * 1000) / 10} %`;
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
  context.fillText(ellipsed(context, event.name, x + width - 7 - (left + 12)), left + 12, y);
  if (height > 36 && event.speed !== 1) {
    context.fillStyle = colours['--dusk']!;
    context.font = `600 11px ${font}`;
    context.fillText(speedWords(event.speed), left, top + 30);
  }
  context.restore();
}

/** The text, or as much of its begin as fits into so many pixels with an ellipsis behind it; empty where not even that does. */
export function ellipsed(context: Pick<CanvasRenderingContext2D, 'measureText'>, text: string, widthPx: number): string {
  if (context.measureText(text).width <= widthPx) return text;
  const signs = [...text];
  let [fits, over] = [0, signs.length];
  while (over - fits > 1) {
    const middle = (fits + over) >> 1;
    if (context.measureText(`${signs.slice(0, middle).join('')}…`).width <= widthPx) fits = middle;
    else over = middle;
  }
  return fits === 0 ? '' : `${signs.slice(0, fits).join('').trimEnd()}…`;
}

/** The signs of the icon set, small: disc, dashed ring, cross, not-equal, two bars, dash, half disc. */
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
      'not-read': [[-1.8, -4, -1.8, 4], [1.8, -4, 1.8, 4]], // prettier-ignore
    };
    for (const [x1, y1, x2, y2] of lines[state] ?? [[-4, 0, 4, 0]]) {
      context.moveTo(x + x1!, y + y1!);
      context.lineTo(x + x2!, y + y2!);
    }
    context.stroke();
  }
  context.lineWidth = 1;
}

const MARKER_TOKENS: Readonly<Record<string, string>> = {
  GREEN: '--spruce',
  CYAN: '--dusk',
  BLUE: '--dusk',
  RED: '--brick',
  MAGENTA: '--plum',
  PURPLE: '--plum',
  PINK: '--plum',
  YELLOW: '--ochre',
  ORANGE: '--ochre',
};

function markerColour(colour: string, colours: Colours): string {
  return colours[MARKER_TOKENS[colour] ?? '--soft']!;
}

/** A small pin hanging from the upper edge of the event. */
function drawMarkers(context: CanvasRenderingContext2D, event: DrawnEvent, top: number, { colours }: Scene, view: View): void {
  for (const marker of event.markers!) {
    const x = toPx(marker.at, view);
    if (x < LABEL_PX || x > view.widthPx) continue;
    context.fillStyle = markerColour(marker.colour, colours);
    context.beginPath();
    context.moveTo(x - 4, top);
    context.lineTo(x + 4, top);
    context.lineTo(x, top + 7);
    context.closePath();
    context.fill();
  }
}

function drawTimelineMarkers(context: CanvasRenderingContext2D, { timeline, colours, font }: Scene, view: View): void {
  for (const marker of timeline.markers) {
    const x = Math.round(toPx(marker.at, view));
    if (x < LABEL_PX || x > view.widthPx) continue;
    context.fillStyle = markerColour(marker.colour, colours);
    context.fillRect(x, RULER_PX - 5, 1.5, view.heightPx);
    context.beginPath();
    context.arc(x + 0.5, RULER_PX - 6, 3.5, 0, Math.PI * 2);
    context.fill();
    context.font = `600 11px ${font}`;
    context.textBaseline = 'alphabetic';
    const width = context.measureText(marker.name).width;
    context.fillStyle = colours['--paper']!;
    context.fillRect(x + 5, 2, width + 6, 15);
    context.fillStyle = markerColour(marker.colour, colours);
    context.fillText(marker.name, x + 8, 14);
  }
}

/** Transitions as a bridge over the cut. */
function drawTransitions(context: CanvasRenderingContext2D, track: DrawnTrack, top: number, height: number, { colours }: Scene, view: View): void {
  for (const transition of track.transitions) {
    const [x, end] = [toPx(transition.start, view), toPx(transition.end, view)];
    if (end < LABEL_PX || x > view.widthPx || end - x < 1.5) continue;
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
}

/** A nested timeline: closed a block with its name, opened a bracket over the lanes below. */
function drawNested(context: CanvasRenderingContext2D, nested: DrawnNested, top: number, height: number, scene: Scene, view: View): void {
  const { colours, font } = scene;
  const [x, end] = [toPx(nested.start, view), toPx(nested.end, view)];
  if (end < LABEL_PX || x > view.widthPx) return;
  const isOpen = scene.open.has(nested.id);
  const holds = scene.selected !== null && nested.tracks.some((track) => contains(track, scene.selected!));
  context.globalAlpha = nested.enabled ? 1 : 0.45;
  context.fillStyle = isOpen ? colours['--sunk']! : colours['--paper']!;
  context.fillRect(x, top, end - x - 1, height + (isOpen ? 3 : 0));
  context.strokeStyle = holds ? colours['--ink']! : colours['--soft']!;
  context.lineWidth = holds && !isOpen ? 2 : 1;
  context.beginPath();
  if (isOpen) {
    context.moveTo(x + 0.5, top + height + 3);
    context.lineTo(x + 0.5, top + 0.5);
    context.lineTo(end - 1.5, top + 0.5);
    context.lineTo(end - 1.5, top + height + 3);
  } else {
    context.rect(x + 0.5, top + 0.5, end - x - 2, height - 1);
    context.rect(x + 3.5, top + 3.5, end - x - 8, height - 7);
  }
  context.stroke();
  context.lineWidth = 1;
  if (nested.speed !== 1) drawThread(context, nested.speed, x + 5, end - x - 10, top + height - 6, colours['--dusk']!);
  if (end - x > 40) {
    context.save();
    context.beginPath();
    context.rect(x + 4, top, end - x - 9, height);
    context.clip();
    context.fillStyle = colours['--ink']!;
    context.font = `600 12px ${font}`;
    context.textBaseline = 'middle';
    const left = Math.max(x, LABEL_PX) + 10;
    context.fillText(ellipsed(context, `${isOpen ? '▾' : '▸'} ${nested.name}`, end - 6 - left), left, top + height / 2);
    context.restore();
  }
  context.globalAlpha = 1;
}

function contains(track: DrawnTrack, index: number): boolean {
  return track.events.some((event) => event.index === index) || track.nested.some((nested) => nested.tracks.some((inner) => contains(inner, index)));
}

function drawHover(context: CanvasRenderingContext2D, { timeline, colours, font }: Scene, view: View, frame: number): void {
  const whole = Math.floor(frame);
  if (whole < 0 || whole >= timeline.durationFrames) return;
  const x = Math.round(toPx(whole, view)) + 0.5;
  context.strokeStyle = colours['--soft']!;
  context.beginPath();
  context.moveTo(x, RULER_PX - 4);
  context.lineTo(x, view.heightPx);
  context.stroke();
  const label = frameToTimecode(timeline.startFrame + whole, timeline.rate, timeline.dropFrame);
  context.font = `600 11px ${font}`;
  const width = context.measureText(label).width + 10;
  const left = Math.min(view.widthPx - width, Math.max(LABEL_PX, x - width / 2));
  context.fillStyle = colours['--ink']!;
  context.fillRect(left, 1, width, 17);
  context.fillStyle = colours['--paper']!;
  context.textBaseline = 'alphabetic';
  context.fillText(label, left + 5, 14);
}
