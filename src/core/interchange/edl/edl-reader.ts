/**
 * CMX 3600 edit decision lists: text into events, events into an OTIO timeline.
 * Source: the list format as published with the CMX 3600; comments and M2 lines are common practice.
 */
import { stops, warns, notes, type Finding } from '../../words/finding';
import type { CodeOf } from '../../words/finding-codes';
import { canDropFrame, nominalFps, rate, type Rate } from '../../time/rate';
import { framesPerDay, parseTimecode, type Timecode } from '../../time/timecode';
import type { Speed } from '../../time/retime';
import { readSpeedLine, agreeOnSpeed, type SpeedLine } from './edl-speed';
import { BETWEEN_FRAMES, MADE, type EdlEvent, type EdlList } from './edl-types';

const LABEL = String.raw`(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d\d?)`;
/** A reel may hold blanks: some writers cut a name to the column. */
const EVENT = new RegExp(
  String.raw`^(\d{1,6})\s+(\S.{0,160}?)\s+(\S+)\s+(C|D|W\d{1,3}|K\s?[BO]?)\s+(?:(\d{1,4})\s+)?${LABEL}\s+${LABEL}\s+${LABEL}\s+${LABEL}\s*$`,
);
/** What a transition comes from stands close above it. */
const LOOK_BACK = 50;
/** What comments say of a source, and its value. */
const SAID =
  /^(FROM\s+CLIP\s+NAME|TO\s+CLIP\s+NAME|SOURCE\s+FILE(?:\s*NAME)?|FILE\s*NAME|MEDIA\s+FILE|FROM\s+FILE|TO\s+FILE|FROM\s+CLIP|TO\s+CLIP|(?:SOURCE\s+)?CLIP\s+NAME|(?:FULL\s+|SOURCE\s+)?REEL(?:\s+NAME)?|TAPE(?:\s+NAME)?|[A-Z ]{0,40}REEL NAME FROM)\s*:(.*)$/i;
const LOCATOR = new RegExp(String.raw`^LOC(?:ATOR)?:?\s*${LABEL}(.*)$`, 'i');
const BETWEEN = new RegExp(String.raw`^${BETWEEN_FRAMES}: (0\.\d{1,6})$`);

/** Whether a text has a line that only an edit decision list has. */
export function looksLikeEdl(text: string): boolean {
  const lines = text.slice(0, 65_536).split(/\r\n|\r|\n/, 200);
  return lines.some((line) => /^\s*(TITLE:|FCM:)/.test(line) || EVENT.test(line.trim()));
}

/** Never throws. A line that cannot be read is a finding with its number; the others are read. */
export function readEdl(text: string, rate: Rate): { list: EdlList; findings: Finding[] } {
  const reader = new EdlLines(rate);
  text.split(/\r\n|\r|\n/).forEach((raw, index) => {
    const line = raw.trim();
    if (line !== '') reader.line(line, index + 1);
  });
  reader.agreeOnSpeeds();
  const { events, findings } = reader;
  if (events.length === 0)
    findings.push(stops('edl-empty', 'There is no event in this list that can be read.', 'Choose a CMX 3600 list (.edl) or an OTIO file.'));
  return { list: { title: reader.title || 'Untitled list', dropFrame: reader.recordDropFrame ?? false, events }, findings };
}

/** Whether a text has a line as of a broken list: worth saying what is wrong with it. */
export function mayBeEdl(text: string): boolean {
  return /^\d{3,6}\s+\S+\s+\S+\s+[CDWK]/m.test(text.slice(0, 4096));
}

class EdlLines {
  readonly findings: Finding[] = [];
  readonly events: EdlEvent[] = [];
  title = '';
  /** The first FCM counts the record side of the whole list; later ones are about the sources that follow. */
  recordDropFrame: boolean | null = null;
  private sourceDropFrame = false;
  private lastRecordIn: number | null = null;
  private readonly speeds: { readonly stated: SpeedLine; readonly event: EdlEvent }[] = [];
  /** Whose name the comments below a transition gave last. */
  private side: 'from' | 'to' | null = null;

  constructor(private readonly rate: Rate) {}

  line(line: string, number: number): void {
    const where = `line ${number}`;
    const last = this.events[this.events.length - 1];
    if (line.startsWith('TITLE:')) {
      this.title = line.slice(6).trim();
    } else if (line.startsWith('FCM:')) {
      this.sourceDropFrame = /DROP/.test(line) && !/NON/.test(line);
      this.recordDropFrame ??= this.sourceDropFrame;
    } else if (line.startsWith('*')) {
      if (last) this.comment(line.replace(/^[*\s]+/, ''), last, where);
    } else if (/^M2\b/.test(line)) {
      this.speed(line, number);
    } else if (/^AUD\b/.test(line)) {
      // The columns hold V, A and A2; further sound channels follow on a line of their own.
      if (last) last.channels.push(...[...line.matchAll(/\d+/g)].map(([channel]) => `A${channel}`));
    } else if (/^SPLIT:/.test(line)) {
      // Only announces that picture and sound of the next event begin apart: their own lines say where.
    } else if (/^\d/.test(line)) {
      const event = this.event(line, number);
      if (event) this.events.push(event);
      if (event) this.side = null;
    } else if (last && SAID.test(line)) {
      // Some writers leave the star away.
      this.comment(line, last, where);
    } else {
      this.findings.push(notes('edl-unknown-line', `Not understood, left out: "${line.slice(0, 80)}".`, undefined, where));
    }
  }

  private event(line: string, number: number): EdlEvent | null {
    const where = `line ${number}`;
    const match = EVENT.exec(line);
    if (!match) {
      this.findings.push(
        warns(
          'edl-bad-line',
          `This event cannot be read: "${line.slice(0, 100)}".`,
          'Expected: number, reel, channels, C/D/W, source in, source out, record in, record out.',
          where,
        ),
      );
      return null;
    }
    const times: number[] = [];
    // Without a word on it, semicolons say that labels drop.
    const drops = (label: string) => canDropFrame(this.rate) && /[;.]\d+$/.test(label);
    const sourceDropFrame = this.sourceDropFrame || drops(match[6]!);
    if (drops(match[8]!)) this.recordDropFrame ??= true;
    const labels = [match[6]!, match[7]!] as const;
    const finer = finerRate(labels, this.rate);
    for (const [index, label] of match.slice(6, 10).entries()) {
      const timecode =
        index < 2 && finer
          ? atCoarser(parseTimecode(label, finer, false), finer, this.rate)
          : parseTimecode(label, this.rate, index < 2 ? sourceDropFrame : (this.recordDropFrame ?? false));
      if (!timecode.ok) {
        const hint = 'The event was left out. Check the rate of the project against the list.';
        this.findings.push(warns('edl-bad-timecode', timecode.reason, hint, where));
        return null;
      }
      times.push(timecode.frame);
    }
    const [sourceIn, sourceOutLabel, recordLabel, recordOutLabel] = times as [number, number, number, number];
    const sourceDay = framesPerDay(this.rate, sourceDropFrame);
    // More than half a day back is the next day: the source runs over midnight. Less is a source read backwards.
    const sourceOut = sourceIn - sourceOutLabel > sourceDay / 2 ? sourceOutLabel + sourceDay : sourceOutLabel;
    const day = framesPerDay(this.rate, this.recordDropFrame ?? false);
    const recordIn = this.onItsDay(recordLabel, day);
    const length = recordOutLabel - recordLabel;
    const recordOut = recordIn + (length < -day / 2 ? length + day : length);
    if (recordOut < recordIn) {
      const message = 'The record out point lies before the record in point; the event was left out.';
      this.findings.push(warns('edl-backwards', message, undefined, where));
      return null;
    }
    const channels = readChannels(match[3]!);
    if (!channels)
      this.findings.push(
        notes('edl-channel', `The channel "${match[3]!.slice(0, 20)}" is not known here; it is taken for picture.`, undefined, where),
      );
    const kind = match[4]!;
    const key = kind.startsWith('K') ? kind.replace(/\s/g, '') : '';
    if (key !== '') this.findings.push(notes('edl-key', `Event ${match[1]} is a key; it is laid as a cut.`, undefined, where));
    const type = kind === 'D' ? 'dissolve' : kind.startsWith('W') ? 'wipe' : 'cut';
    return {
      line: number,
      number: match[1]!,
      reel: match[2]!,
      channels: channels ?? ['V'],
      transition: { type, wipe: type === 'wipe' ? kind : '', frames: type === 'cut' ? 0 : Number(match[5] ?? 0) },
      key,
      sourceIn,
      sourceOut,
      recordIn,
      recordOut,
      dropFrame: sourceDropFrame,
      labels,
      isFiner: finer !== null,
      isSpeedStated: false,
      speed: null,
      fromClipName: '',
      toClipName: '',
      sourceFile: '',
      fullReel: '',
      between: 0,
      locators: [],
      comments: [],
    };
  }

  /** A label half a day before the event above it is of the next day, and the other way round. */
  private onItsDay(label: number, day: number): number {
    let frame = label;
    const last = this.lastRecordIn;
    if (last !== null) {
      while (frame < last - day / 2) frame += day;
      while (frame > last + day / 2 && frame >= day) frame -= day;
    }
    this.lastRecordIn = frame;
    return frame;
  }

  private comment(text: string, event: EdlEvent, where: string): void {
    const locator = LOCATOR.exec(text);
    if (locator) {
      const at = parseTimecode(locator[1]!, this.rate, this.recordDropFrame ?? false);
      const [colour = ''] = locator[2]!.trim().split(/\s/, 1);
      const note = locator[2]!.trim().slice(colour.length).trim();
      if (at.ok) event.locators.push({ frame: at.frame, colour: colour.toUpperCase(), note });
      else this.findings.push(warns('edl-bad-locator', at.reason, 'The locator was left out.', where));
      return;
    }
    if (/^FREEZE FRAME/i.test(text)) {
      // Below the name of what a transition comes from it speaks of that.
      if (event.transition.type === 'cut' || this.side !== 'from') event.speed = { num: 0, den: 1 };
      return;
    }
    const between = BETWEEN.exec(text);
    if (between) {
      event.between = Number(between[1]);
      return;
    }
    const named = SAID.exec(text);
    const [kind, value] = [named?.[1]?.toUpperCase().replace(/\s+/g, ' ') ?? '', named?.[2]?.trim() ?? ''];
    if (named) this.side = kind.startsWith('TO') ? 'to' : kind.startsWith('FROM') ? 'from' : this.side;
    if (!named) event.comments.push(text);
    else if (/REEL|TAPE/.test(kind)) event.fullReel = value;
    else if (kind === 'TO CLIP NAME') event.toClipName = value;
    else if (kind.startsWith('TO')) event.sourceFile = value;
    else if (kind === 'FROM FILE' || kind === 'FROM CLIP') this.fromFile(value, event);
    else if (/FILE/.test(kind)) event.sourceFile = value;
    // The lines of a split edit share what is said below the last of them.
    else for (const one of this.sameNumber(event)) one.fromClipName ||= value;
  }

  /** FROM names what a transition comes from: the file of the event before it, not its own. */
  private fromFile(file: string, event: EdlEvent): void {
    if (event.transition.type === 'cut') {
      event.sourceFile = file;
      return;
    }
    const near = this.events.slice(-LOOK_BACK - 1, -1);
    const leaving = near.findLast((other) => other.number === event.number && other.recordOut === other.recordIn);
    const before = near.filter((other) => other.recordOut === event.recordIn && other.recordOut > other.recordIn && other.reel === leaving?.reel);
    for (const other of before) if (other.channels.some((channel) => event.channels.includes(channel))) other.sourceFile ||= file;
  }

  private sameNumber(event: EdlEvent): EdlEvent[] {
    if (event.transition.type !== 'cut') return [event];
    const same: EdlEvent[] = [event];
    for (let at = this.events.length - 2; at >= 0 && this.events[at]!.number === event.number && this.events[at]!.reel === event.reel; at--) {
      // Events above one with a clip name were given theirs already.
      if (this.events[at]!.fromClipName !== '') break;
      same.push(this.events[at]!);
    }
    return same;
  }

  private speed(line: string, number: number): void {
    const stated = readSpeedLine(line);
    const event = this.events[this.events.length - 1];
    if (stated && event) {
      this.speeds.push({ stated, event });
      return;
    }
    const message = `This speed line cannot be read: "${line.slice(0, 100)}".`;
    this.findings.push(warns('edl-bad-speed', message, 'The event counts at normal speed.', `line ${number}`));
  }

  /** A speed below a transition may be that of what it comes from, whose own line stands above. */
  private ownSpeeds(): Map<EdlEvent, string> {
    const own = new Map<EdlEvent, string>();
    const reelBefore = new Map<EdlEvent, string>();
    this.events.forEach((event, index) => {
      const before = this.events[index - 1];
      if (before?.number === event.number) reelBefore.set(event, before.reel);
    });
    for (const { stated, event } of this.speeds) {
      const isOwn = stated.name === event.reel || stated.name === event.toClipName;
      const isFrom = stated.name === reelBefore.get(event) || stated.name === event.fromClipName;
      if (event.transition.type === 'cut' || isOwn || !isFrom) own.set(event, stated.speed);
    }
    return own;
  }

  /** Speeds become fractions once all lines of an event are read. A source of another length without one is a speed too. */
  agreeOnSpeeds(): void {
    const speeds = this.ownSpeeds();
    for (const event of this.events) {
      const record = event.recordOut - event.recordIn;
      const source = Math.abs(event.sourceOut - event.sourceIn);
      const stated = speeds.get(event);
      event.isSpeedStated = stated !== undefined || event.speed !== null;
      if (event.speed) continue;
      if (stated !== undefined) event.speed = this.stated(event, stated, source, record);
      else if (Math.abs(source - record) > (event.isFiner ? 1 : 0) && record > 0 && source > 0 && !MADE.has(event.reel)) {
        event.speed = { num: source, den: record };
        this.differs(event, 'edl-lengths-differ', `takes ${source} frames of source for ${record} of record, and no speed is stated.`, LENGTHS_READ);
      }
      if (event.sourceOut < event.sourceIn && (event.speed?.num ?? 1) > 0) {
        const { num, den } = event.speed ?? { num: 1, den: 1 };
        event.speed = { num: -num, den };
      }
      if (event.speed && event.speed.num === event.speed.den) event.speed = null;
    }
    const [finer, ...more] = this.events.filter(({ isFiner }) => isFiner);
    if (!finer) return;
    const which = more.length === 0 ? `Event ${finer.number} counts` : `Event ${finer.number} and ${more.length} more count`;
    const message = `${which} source timecode at more than ${nominalFps(this.rate)} frames a second.`;
    this.findings.push(notes('edl-source-count', message, 'Counted in frames of the source as soon as its media is known.', `line ${finer.line}`));
  }

  private stated(event: EdlEvent, stated: string, source: number, record: number): Speed {
    const { speed, by } = agreeOnSpeed(stated, source, record, this.rate);
    const lengths = `takes ${source} frames of source for ${record} of record, and its speed line says ${stated} a second.`;
    if (by === 'lengths') this.differs(event, 'edl-speed-differs', lengths, 'The lengths decide. Look at the event.');
    if (by === 'speed')
      this.differs(event, 'edl-speed-divided', lengths, 'The source length seems to be divided by the speed, so the speed decides.');
    return speed;
  }

  private differs(event: EdlEvent, code: CodeOf<'warns'>, message: string, hint: string): void {
    this.findings.push(warns(code, `Event ${event.number} ${message}`, hint, `line ${event.line}`));
  }
}

/** Rates that labels count by, at the least. */
const LABEL_RATES = [24, 25, 30, 48, 50, 60, 100, 120];

/** Where a label has a frame that the rate of the list does not have, it counts its source at a higher one: the least that has it. */
function finerRate(labels: readonly string[], of: Rate): Rate | null {
  const frame = Math.max(...labels.map((label) => Number(label.slice(9))));
  const fps = frame < nominalFps(of) ? undefined : LABEL_RATES.find((own) => own > frame);
  return fps === undefined ? null : rate(fps);
}

/** A label at a higher rate, as a frame of the list. */
function atCoarser(timecode: Timecode, finer: Rate, of: Rate): Timecode {
  return timecode.ok ? { ...timecode, frame: Math.floor((timecode.frame * nominalFps(of)) / nominalFps(finer)) } : timecode;
}

const LENGTHS_READ = 'It is read as a change of speed, so that all of the source counts as used.';

/**
 * "V", "A", "A2", "AA" (both sound channels), "B" (picture and sound), and several of them together with or without a
 * stroke: "AA/V", "A1A2", "VA1A2". "NONE": the AUD line says which. Null where it is none of these.
 */
function readChannels(text: string): string[] | null {
  if (text === 'NONE') return [];
  if (!/^(?:V\d*|A\d+|AA|A|B|\/)+$/.test(text)) return null;
  const found = (text.match(/V\d*|A\d+|AA(?!\d)|A|B/g) ?? []).flatMap((part) => {
    if (part === 'B') return ['V', 'A1'];
    if (part === 'AA') return ['A1', 'A2'];
    if (part === 'A') return ['A1'];
    return [part === 'V1' ? 'V' : part];
  });
  return [...new Set(found)];
}
