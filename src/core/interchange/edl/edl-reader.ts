/**
 * CMX 3600 edit decision lists: text into events, events into an OTIO timeline.
 * Source: the list format as published with the CMX 3600; comments and M2 lines are common practice.
 */
import { stops, warns, notes, type Finding } from '../../planning/finding';
import { nominalFps, rateAsNumber, type Rate } from '../../time/rate';
import { parseTimecode } from '../../time/timecode';
import type { EdlEvent, EdlList } from './edl-types';

const EVENT =
  /^(\d{1,6})\s+(\S+)\s+(\S+)\s+(C|D|W\d{1,3}|K\s?[BO]?)\s+(?:(\d{1,4})\s+)?(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d)\s+(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d)\s+(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d)\s+(\d\d[:;]\d\d[:;]\d\d[:;.]\d\d)\s*$/;
const M2 = /^M2\s+(\S+)\s+(-?\d+(?:\.\d+)?)\s+(\S+)\s*$/;

/** Whether a text looks like an edit decision list at all. */
export function looksLikeEdl(text: string): boolean {
  return /^\s*(TITLE:|FCM:)/m.test(text.slice(0, 4096)) || /^\d{3,6}\s+\S+\s+\S+\s+[CDWK]/m.test(text.slice(0, 4096));
}

/** Never throws. A line that cannot be read is a finding with its number; the others are read. */
export function readEdl(text: string, projectRate: Rate): { list: EdlList; findings: Finding[] } {
  const findings: Finding[] = [];
  const events: EdlEvent[] = [];
  let title = '';
  let dropFrame = false;
  let firstDropFrame: boolean | null = null;

  text.split(/\r\n|\r|\n/).forEach((raw, index) => {
    const line = raw.trim();
    const where = `line ${index + 1}`;
    const last = events[events.length - 1];
    if (line === '') return;
    if (line.startsWith('TITLE:')) {
      title = line.slice(6).trim();
    } else if (line.startsWith('FCM:')) {
      dropFrame = /DROP/.test(line) && !/NON/.test(line);
      firstDropFrame ??= dropFrame;
    } else if (line.startsWith('*')) {
      if (last) readComment(line, last);
    } else if (line.startsWith('M2')) {
      const match = M2.exec(line);
      if (match && last) last.speedFps = Number(match[2]);
      else findings.push(warns('edl-bad-speed', `This speed line cannot be read: "${line}".`, 'The event counts at normal speed.', where));
    } else if (/^\d/.test(line)) {
      const event = readEvent(line, index + 1, projectRate, dropFrame, findings);
      if (event) events.push(event);
    } else {
      findings.push(notes('edl-unknown-line', `Not understood, left out: "${line.slice(0, 80)}".`, undefined, where));
    }
  });
  if (events.length === 0) {
    findings.push(stops('edl-empty', 'There is no event in this list that can be read.', 'Choose a CMX 3600 list (.edl) or an OTIO file.'));
  }
  return { list: { title: title || 'Untitled list', dropFrame: firstDropFrame ?? false, events }, findings };
}

function readEvent(line: string, number: number, projectRate: Rate, dropFrame: boolean, findings: Finding[]): EdlEvent | null {
  const where = `line ${number}`;
  const match = EVENT.exec(line);
  if (!match) {
    findings.push(
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
  for (const label of match.slice(6, 10)) {
    const timecode = parseTimecode(label, projectRate, dropFrame);
    if (!timecode.ok) {
      findings.push(warns('edl-bad-timecode', timecode.reason, 'The event was left out. Check the rate of the project against the list.', where));
      return null;
    }
    times.push(timecode.frame);
  }
  const [sourceIn, sourceOut, recordIn, recordOut] = times as [number, number, number, number];
  if (recordOut < recordIn) {
    findings.push(warns('edl-backwards', 'The record out point lies before the record in point; the event was left out.', undefined, where));
    return null;
  }
  const kind = match[4]!;
  if (kind.startsWith('K')) findings.push(notes('edl-key', `Event ${match[1]} is a key; it is laid as a cut.`, undefined, where));
  const type = kind === 'D' ? 'dissolve' : kind.startsWith('W') ? 'wipe' : 'cut';
  return {
    line: number,
    number: match[1]!,
    reel: match[2]!,
    channels: readChannels(match[3]!),
    transition: { type, wipe: type === 'wipe' ? kind : '', frames: type === 'cut' ? 0 : Number(match[5] ?? 0) },
    sourceIn,
    sourceOut,
    recordIn,
    recordOut,
    dropFrame,
    speedFps: null,
    fromClipName: '',
    toClipName: '',
    sourceFile: '',
    comments: [],
  };
}

/** "V", "A", "A2", "AA" (both sound channels), "B" (picture and sound), "AA/V". */
function readChannels(text: string): string[] {
  const found = text.split('/').flatMap((part) => {
    if (part === 'B') return ['V', 'A1'];
    if (part === 'AA') return ['A1', 'A2'];
    if (part === 'A') return ['A1'];
    return /^(V\d*|A\d+)$/.test(part) ? [part] : part === 'NONE' ? [] : ['V'];
  });
  return [...new Set(found.map((part) => (/^V1?$/.test(part) ? 'V' : part)))];
}

function readComment(line: string, event: EdlEvent): void {
  const match = /^\*\s*(FROM CLIP NAME|TO CLIP NAME|SOURCE FILE|FROM FILE|CLIP NAME):\s*(.*)$/i.exec(line);
  if (!match) event.comments.push(line.slice(1).trim());
  else if (/^TO/i.test(match[1]!)) event.toClipName = match[2]!;
  else if (/FILE/i.test(match[1]!)) event.sourceFile = match[2]!;
  else event.fromClipName = match[2]!;
}

/** Speed of an event: source frames a second over the rate of the list. */
export function speedOf(event: EdlEvent, r: Rate): number {
  if (event.speedFps === null) return 1;
  // Lists say 30 where the rate is 30000/1001.
  const fps = Math.abs(event.speedFps) % 1 === 0 ? nominalFps(r) : rateAsNumber(r);
  return event.speedFps / fps;
}
