import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rate } from '../../time/rate';
import { readTimelineFile } from '../read-timeline-file';
import { previewClipList, readClipList } from './clip-list-reader';
import { writeClipList } from './clip-list-writer';

const PAL = rate(25);
const LIST = `Shot;Camera roll;File;In;Out;Folder;Remarks
Tuning fork;A001;Day 1/A001_C001.mov;09:14:04:00;09:14:07:00;Day 1/Hall;"hums; keep"
Ladle;A001;;09:16:02:10;09:16:02:05;Day 1;
;;;;;;
;;;;;Day 2;only a note
Late;A002;x.mov;25:00:00:00;;;
`;

describe('a clip list', () => {
  it('shows its columns and what they seem to be', () => {
    expect(previewClipList(LIST)).toMatchObject({
      columns: ['Shot', 'Camera roll', 'File', 'In', 'Out', 'Folder', 'Remarks'],
      rowCount: 4,
      guess: { name: 0, reel: 1, file: 2, in: 3, out: 4, bin: 5, notes: 6 },
    });
    expect(previewClipList('Dear editor')).toBeNull();
  });

  it('becomes clips in bins; bad rows are named, the others read', () => {
    const { clips, findings, format } = readTimelineFile(LIST, PAL);
    expect(format).toBe('clip-list');
    expect(clips.map(({ document, bins }) => [document.name, bins.join('/')])).toEqual([
      ['Late', ''],
      ['Ladle', 'Day 1'],
      ['Tuning fork', 'Day 1/Hall'],
    ]);
    expect(findings.map((finding) => [finding.code, finding.where])).toEqual([
      ['clip-list-no-length', 'row 2'],
      ['clip-list-empty-row', 'row 3'],
      ['clip-list-bad-timecode', 'row 4'],
    ]);
  });

  it('takes the columns it is told, and refuses a table without names', () => {
    expect(JSON.stringify(readClipList('a,b\nFork,x.mov\n', PAL, { name: 0, file: 1 }).document)).toContain('"target_url":"x.mov"');
    expect(readClipList('a,b\nFork,x.mov\n', PAL).findings[0]).toMatchObject({ severity: 'stops', code: 'clip-list-no-name' });
  });

  it('counts a row at the rate it states, and says where that is none', () => {
    const { document, findings } = readClipList('Name,In,Out,FPS\nFork,10:00:00:23,10:00:01:00,23.976\nBell,00:00:01:00,00:00:02:00,soon\n', PAL);
    const ranges = (document!.children as { source_range: { start_time: { value: number; rate: number } } }[]).map(({ source_range: { start_time } }) => start_time); // prettier-ignore
    expect(ranges.map(({ value, rate }) => [value, rate])).toEqual([[36_000 * 24 + 23, 24_000 / 1001], [25, 25]]); // prettier-ignore
    expect(findings.map(({ code, where }) => [code, where])).toEqual([['clip-list-bad-rate', 'row 2']]);
  });

  it('written and read again says the same, whatever stands in it', () => {
    const cell = fc
      .string({ unit: fc.constantFrom('a', 'Ü', '"', ',', ';', "'", '\n', '=', '@', '-', ' ', '鐘'), maxLength: 12 })
      .map((text) => text.trim());
    fc.assert(
      fc.property(fc.array(fc.record({ name: cell, notes: cell, reel: cell }), { minLength: 1, maxLength: 6 }), (rows) => {
        const full = rows.map((row, index) => ({
          file: `f${index}.mov`,
          start: '',
          in: '',
          out: '',
          bin: '',
          rate: '',
          ...row,
          name: row.name || 'x',
        }));
        const text = writeClipList(full);
        const { document } = readClipList(text, PAL);
        const read = (document!.children as { name: string; metadata: { mill_shelf: { note: string } } }[]).map((clip) => [
          clip.name,
          clip.metadata.mill_shelf.note,
        ]);
        expect(read).toEqual(full.map((row) => [row.name, row.notes]));
      }),
    );
  });

  it('with tabs is no edit decision list, whatever its rows look like', () => {
    const rows = 'Clip\tReel\tFile\tNotes\n001\tA001\tV\tC at dawn\n002\tA002\tV\tD\n';
    expect(readTimelineFile(rows, PAL)).toMatchObject({ format: 'clip-list', findings: [] });
    const event = '001  A001     V     C        09:14:00:00 09:14:02:00 10:00:00:00 10:00:02:00';
    expect(readTimelineFile(`Name\tReel\n${event.replace(/ +/g, '\t')}\n`, PAL).format).toBe('clip-list');
    expect(readTimelineFile(`${event}\n`, PAL).format).toBe('edl');
    expect(readTimelineFile(`TITLE: clip, reel, file\n${event}\n`, PAL).format).toBe('edl');
    expect(readTimelineFile('001  A001     V     C        09:14:00:00\n', PAL).findings[0]!.code).toBe('edl-bad-line');
    // Chosen columns decide.
    expect(readTimelineFile(event.replace(/ +/g, '\t'), PAL, { columns: { name: 1 } }).format).toBe('clip-list');
  });

  it('its delimiter is the one that makes titles, though the contents hold others', () => {
    const names = (text: string) => readTimelineFile(text, PAL).clips.map(({ document }) => document.name);
    expect(names('Name;File\nBell, small, cracked;a.mov\nBell, great;b.mov\n')).toEqual(['Bell, small, cracked', 'Bell, great']);
    expect(names('Name\tNotes\nBell; small, old\tx;y\n')).toEqual(['Bell; small, old']);
    expect(names('Name,Notes\n"Bell; small";x;y\n')).toHaveLength(1);
  });

  it('an out point after midnight is of the next day', () => {
    const lengths = (text: string, r = PAL) =>
      (readClipList(`Name,In,Out\n${text}\n`, r).document!.children as { source_range: { duration: { value: number } } | null }[]).map((clip) => clip.source_range?.duration.value); // prettier-ignore
    expect(lengths('A,23:59:59:13,00:00:02:00')).toEqual([62]);
    expect(lengths('A,23:59:59;28,00:00:00;10', rate(30_000, 1001))).toEqual([12]);
    expect(lengths('A,10:00:02:00,10:00:01:00')).toEqual([undefined]);
  });

  it('keeps a single in or out point', () => {
    const { document } = readClipList('Name,In,Out\nA,10:00:00:00,\nB,,10:00:02:00\nC,,\n', PAL);
    expect((document!.children as { metadata: { mill_shelf: unknown } }[]).map((clip) => clip.metadata.mill_shelf)).toEqual([
      { note: '', mark_in: 900_000, mark_out: null, mark_rate: '25/1' },
      { note: '', mark_in: null, mark_out: 900_050, mark_rate: '25/1' },
      { note: '' },
    ]);
  });
});
