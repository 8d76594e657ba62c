/**
 * CMX 3600 edit decision lists: text into events, events into an OTIO timeline.
 * Source: the list format as published with the CMX 3600; comments and M2 lines are common practice.
 */
import { stops, warns, notes, type Finding } from '../../planning/finding';
import { nominalFps, rateAsNumber, type Rate } from '../../time/rate';
import { speedFromNumber, type Speed } from '../../time/retime';
import { framesPerDay, parseTimecode } from '../../time/timecode';
import type { EdlEvent, EdlList } from './edl-types';

const LABEL = String.raw`(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d\d?)`;
const EVENT = new RegExp(
  String.raw`^(\d{1,6})\s+(\S+)\s+(\S+)\s+(C|D|W\d{1,3}|K\s?[BO]?)\s+(?:(\d{1,4})\s+)?${LABEL}\s+${LABEL}\s+${LABEL}\s+${LABEL}\s*$`,
);
/** What a transition comes from stands close above it. */
const LOOK_BACK = 50;
const LOCATOR = new RegExp(String.raw`^LOC(?:ATOR)?:?\s*${LABEL}\s*(\S*)\s*(.*)$`, 'i');

/** Whether a text looks like an edit decision list at all. */
export function looksLikeEdl(text: string): boolean {
  return /^\s*(TITLE:|FCM:)/m.test(text.slice(0, 4096)) || /^\d{3,6}\s+\S+\s+\S+\s+[CDWK]/m.test(text.slice(0, 4096));
}

/** Never throws. A line that cannot be read is a finding with its number; the others are read. */
export function readEdl(text: string, rate: Rate): { list: EdlList; findings: Finding[] } {
  const reader = new EdlLines(rate);
  text.split(/\r\n|\r|\n/).forEach((raw, index) => {
    const line = raw.trim();
    if (line !== '') reader.line(line, index + 1);
  });
  reader.settleSpeeds();
  const { events, findings } = reader;
  if (events.length === 0)
    findings.push(stops('edl-empty', 'There is no event in this list that can be read.', 'Choose a CMX 3600 list (.edl) or an OTIO file.'));
  return { list: { title: reader.title || 'Untitled list', dropFrame: reader.recordDropFrame ?? false, events }, findings };
}

class EdlLines {
  readonly findings: Finding[] = [];
  readonly events: EdlEvent[] = [];
  title = '';
  /** The first FCM counts the record side of the whole list; later ones are about the sources that follow. */
  recordDropFrame: boolean | null = null;
  private sourceDropFrame = false;
  private lastRecordIn: number | null = null;
  private readonly speeds = new Map<EdlEvent, string>();

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
    for (const [index, label] of match.slice(6, 10).entries()) {
      const timecode = parseTimecode(label, this.rate, index < 2 ? this.sourceDropFrame : (this.recordDropFrame ?? false));
      if (!timecode.ok) {
        const hint = 'The event was left out. Check the rate of the project against the list.';
        this.findings.push(warns('edl-bad-timecode', timecode.reason, hint, where));
        return null;
      }
      times.push(timecode.frame);
    }
    const [sourceIn, sourceOutLabel, recordLabel, recordOutLabel] = times as [number, number, number, number];
    const sourceDay = framesPerDay(this.rate, this.sourceDropFrame);
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
    const kind = match[4]!;
    const key = kind.startsWith('K') ? kind.replace(/\s/g, '') : '';
    if (key !== '') this.findings.push(notes('edl-key', `Event ${match[1]} is a key; it is laid as a cut.`, undefined, where));
    const type = kind === 'D' ? 'dissolve' : kind.startsWith('W') ? 'wipe' : 'cut';
    return {
      line: number,
      number: match[1]!,
      reel: match[2]!,
      channels: readChannels(match[3]!),
      transition: { type, wipe: type === 'wipe' ? kind : '', frames: type === 'cut' ? 0 : Number(match[5] ?? 0) },
      key,
      sourceIn,
      sourceOut,
      recordIn,
      recordOut,
      dropFrame: this.sourceDropFrame,
      speed: null,
      fromClipName: '',
      toClipName: '',
      sourceFile: '',
      fullReel: '',
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
      if (at.ok) event.locators.push({ frame: at.frame, colour: locator[2]!.toUpperCase(), note: locator[3]! });
      else this.findings.push(warns('edl-bad-locator', at.reason, 'The locator was left out.', where));
      return;
    }
    if (/^FREEZE FRAME/i.test(text)) {
      event.speed = { num: 0, den: 1 };
      return;
    }
    const named =
      /^(FROM CLIP NAME|TO CLIP NAME|SOURCE FILE|FROM FILE|TO FILE|FROM CLIP|TO CLIP|CLIP NAME|(?:FULL )?REEL(?: NAME)?|[A-Z ]*REEL NAME FROM):\s*(.*)$/i.exec(
        text,
      );
    const [kind, value] = [named?.[1]?.toUpperCase() ?? '', named?.[2] ?? ''];
    if (!named) event.comments.push(text);
    else if (kind.includes('REEL')) event.fullReel = value;
    else if (kind === 'TO CLIP NAME') event.toClipName = value;
    else if (kind.startsWith('TO')) event.sourceFile = value;
    else if (kind === 'FROM FILE' || kind === 'FROM CLIP') this.fromFile(value, event);
    else if (kind === 'SOURCE FILE') event.sourceFile = value;
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
      // Those above one that has its name were told it before.
      if (this.events[at]!.fromClipName !== '') break;
      same.push(this.events[at]!);
    }
    return same;
  }

  /** A speed belongs to the line of its reel: of a dissolve's two lines either may have one. */
  private speed(line: string, number: number): void {
    const stated = readSpeedLine(line);
    const last = this.events[this.events.length - 1];
    if (!stated || !last) {
      const message = `This speed line cannot be read: "${line}".`;
      this.findings.push(warns('edl-bad-speed', message, 'The event counts at normal speed.', `line ${number}`));
      return;
    }
    const before = this.events[this.events.length - 2];
    const from = before?.number === last.number && before.reel === stated.reel && last.reel !== stated.reel ? before : last;
    this.speeds.set(from, stated.speed);
  }

  /** Speeds become fractions once all lines of an event are read. A source of another length without one is a speed too. */
  settleSpeeds(): void {
    for (const event of this.events) {
      const record = event.recordOut - event.recordIn;
      const source = Math.abs(event.sourceOut - event.sourceIn);
      const stated = this.speeds.get(event);
      if (event.speed) continue;
      if (stated !== undefined) {
        event.speed = speedOf(stated, source, record, this.rate);
      } else if (source !== record && record > 0 && source > 0 && event.reel !== 'BL') {
        event.speed = { num: source, den: record };
        this.findings.push(
          warns(
            'edl-lengths-differ',
            `Event ${event.number} takes ${source} frames of source for ${record} of record, and no speed is stated.`,
            'It is read as a change of speed, so that all of the source counts as used.',
            `line ${event.line}`,
          ),
        );
      }
      if (event.speed && event.speed.num === event.speed.den) event.speed = null;
    }
  }
}

/** "M2  REEL  025.0  00:00:00:00": the timecode may lack, and a reel may hold blanks. */
function readSpeedLine(line: string): { reel: string; speed: string } | null {
  const words = line.split(/\s+/).slice(1);
  if (words.length > 1 && /^\d\d[:;]\d\d[:;]\d\d[:;.]\d{2,3}$/.test(words.at(-1)!)) words.pop();
  const speed = words.pop();
  return speed !== undefined && words.length > 0 && /^[+-]?\d+(\.\d+)?$/.test(speed) ? { reel: words.join(' '), speed } : null;
}

/**
 * Speed of an M2 line: source frames a second over the rate of the list. Lists state it rounded, and say 30 where
 * the rate is 30000/1001: of the values it may stand for, the one that the lengths of source and record confirm.
 * Three decimals are the simplest fraction that is written so.
 */
function speedOf(stated: string, source: number, record: number, rate: Rate): Speed {
  const fps = Number(stated);
  const decimals = stated.split('.')[1]?.length ?? 0;
  const roundedBy = 0.5 / 10 ** decimals / nominalFps(rate) + 1e-9;
  const nominal = Math.abs(fps) / nominalFps(rate);
  const real = Math.abs(fps) / rateAsNumber(rate);
  const signed = (speed: Speed): Speed => (fps < 0 ? { num: -speed.num, den: speed.den } : speed);
  const isOff = Math.abs(nominal * record - source) >= 1;
  if (isOff && source > 0 && Math.abs(source / record - nominal) <= roundedBy) return signed({ num: source, den: record });
  if (isOff && Math.abs(real * record - source) < 0.5) return signed(speedFromNumber(real));
  return signed(speedFromNumber(nominal, decimals >= 3 ? roundedBy : undefined));
}

/** "V", "A", "A2", "AA" (both sound channels), "B" (picture and sound), "AA/V", "NONE" (the AUD line says which). */
function readChannels(text: string): string[] {
  const found = text.split('/').flatMap((part) => {
    if (part === 'B') return ['V', 'A1'];
    if (part === 'AA') return ['A1', 'A2'];
    if (part === 'A') return ['A1'];
    return /^(V\d*|A\d+)$/.test(part) ? [part] : part === 'NONE' ? [] : ['V'];
  });
  return [...new Set(found.map((part) => (/^V1?$/.test(part) ? 'V' : part)))];
}
