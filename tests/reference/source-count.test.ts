/**
 * A list of 25 fps that holds sources of 23.976 and 50: written by the CMX 3600 adapter 1.0.0 of OpenTimelineIO 0.18.1 in the
 * sources' own count (no rate given) and in that of the list (at a rate), read here over real files that ffmpeg made with
 * timecode. Which frame a label is, is told by smpte-timecode's arithmetic: hh:mm:ss:ff at the nominal rate (ST 12-1).
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Study } from '../../src/server/questions/study';
import type { BroughtIn } from '../../src/server/projects/bring-in';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { PAL } from '../helpers/snapshots';
import { ffmpeg, makeHouse, type SmallHouse } from '../helpers/small-house';
import { go } from '../helpers/trust-house';

let small: SmallHouse;
const folder = mkdtempSync(join(tmpdir(), 'mill-count-'));
beforeEach(async () => {
  small = makeHouse();
  const make = (name: string, rate: string, timecode: string, seconds: number) => ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=64x36:r=${rate}:d=${seconds}`, '-timecode', timecode, '-c:v', 'mpeg4', '-g', '1', join(small.source.root, name)); // prettier-ignore
  await Promise.all([
    make('casting.mov', '24000/1001', '10:00:00:00', 75),
    make('strike.mov', '50', '11:00:00:00', 20),
    make('yard.mov', '25', '12:00:00:00', 20),
  ]);
  await small.stocktake(small.source.id);
});
afterEach(async () => {
  await small.remove();
  rmSync(folder, { recursive: true, force: true });
});

/** Events of 4 s: 1464 frames into casting, 75 frames (1.5 s) into strike, 50 into yard; counted in each source's own frames. */
const WRITE = `
import re, sys
import opentimelineio as otio
R = otio.opentime.RationalTime
at = sys.argv[2]
CLIPS = [("casting", 24000/1001, 10*3600*24 + 1464, 96), ("strike", 50, 11*3600*50 + 75, 201), ("yard", 25, 12*3600*25 + 50, 100)]
def timeline(clips):
    t = otio.schema.Timeline("Bell")
    track = otio.schema.Track("V1", kind="Video")
    t.tracks.append(track)
    for name, rate, start, frames in clips:
        clip = otio.schema.Clip(name + ".mov", source_range=otio.opentime.TimeRange(R(start, rate), R(frames, rate)))
        clip.media_reference = otio.schema.ExternalReference(target_url=name + ".mov")
        clip.metadata["cmx_3600"] = {"reel": name[:8]}
        track.append(clip)
    return t
def edl(clips, rate):
    return otio.adapters.write_to_string(timeline(clips), "cmx_3600", rate=rate)
if at == "otio":
    print(timeline(CLIPS).to_json_string())
elif at == "list":
    print(edl(CLIPS, 25))
else:
    # The adapter counts a whole list at one rate: the source side of each event as it writes it at the rate of its source.
    lines = edl(CLIPS, 25).split("\\n")
    own = iter([re.findall(r"\\d\\d:\\d\\d:\\d\\d:\\d\\d", edl([clip], clip[1]))[:2] for clip in CLIPS])
    for line in lines:
        labels = re.findall(r"\\d\\d:\\d\\d:\\d\\d:\\d\\d", line)
        if len(labels) == 4:
            first, last = next(own)
            line = line.replace(labels[0] + " " + labels[1], first + " " + last, 1)
        print(line)
`;
const theirs = (at: string) => execFileSync(resolve('.venv/bin/python'), ['-c', WRITE, '', at], { encoding: 'utf8' });

const study = () => new Study(small.house.catalogue, small.house.mounts);
async function bring(text: string, name = 'bell.edl'): Promise<BroughtIn> {
  const place = { shelfId: small.source.id, path: '' };
  return await study().answer({ ask: 'bring-in', projectId: small.projectId, name, source: { text }, folder: place, rate: PAL, findings: [], match: { scope: null } }); // prettier-ignore
}
const view = async (timelineId: string) => await study().answer({ ask: 'timeline', projectId: small.projectId, timelineId });
/** First frame each event reads of its file, in the order of the record. */
async function reads(timelineId: string): Promise<(number | undefined)[]> {
  return (await view(timelineId)).tracks[0]!.events.map((event) => event.reads?.start);
}
const recount = async (timelineId: string, count: 'list' | 'source' | null, events?: number[]) => {
  const wish = { count, ...(events ? { events } : {}) };
  return (await study().answer({ ask: 'recount', projectId: small.projectId, timelineId, wish })).timelineId;
};

describe('a list of 25 with sources of 23.976 and 50', () => {
  it('whose writer counts each source in its own frames reads the very frames, and says so', async () => {
    const text = theirs('own');
    // The adapter writes the label of frame 1464 at nominal 24: 61 s after ten.
    expect(text).toContain('10:01:01:00');
    const { timelineIds, findings } = await bring(text);
    expect(await reads(timelineIds[0]!)).toEqual([1464, 75, 50]);
    expect(findings.map(({ code }) => code)).toContain('source-count');
    const { counts, tracks } = await view(timelineIds[0]!);
    expect(counts).toMatchObject({ events: 2, bySource: 2, chosen: null, isOutdated: false });
    expect(tracks[0]!.events.map(({ sourceIn, speed }) => `${sourceIn} ${speed}`)).toEqual(['10:01:01:00 1', '11:00:01:25 1', '12:00:02:00 1']);
  });

  it('is written again with the very labels it came with', async () => {
    const text = theirs('own');
    const { timelineIds } = await bring(text);
    const shared = { timelineIds, destination: { shelfId: small.vault.id, path: '' }, folderName: '' };
    await go(small, await small.plan({ kind: 'export', settings: { ...shared, format: 'edl' } }));
    const labels = (list: string) => [...list.matchAll(/^\d{3} .*?(\d\d:\S+) (\d\d:\S+) \d\d:\S+ \d\d:\S+\s*$/gm)].map(([, first]) => first);
    const written = readFileSync(join(small.vault.root, 'Bell V1.edl'), 'utf8');
    expect(labels(written)).toEqual(labels(text));
    // Brought in elsewhere it reads the same frames.
    writeFileSync(join(small.source.root, 'again.edl'), written);
    const again = await bring(written.replace('Bell', 'Again'));
    expect(await reads(again.timelineIds[0]!)).toEqual([1464, 75, 50]);
    // In frames of the list the label is another one: 36 000 s of labels are 36 036 s of time.
    await go(small, await small.plan({ kind: 'export', settings: { ...shared, folderName: 'List', format: 'edl', sourceCount: 'list' } }));
    expect(labels(readFileSync(join(small.vault.root, 'List/Bell V1.edl'), 'utf8'))[0]).toBe('10:01:37:01');
  });

  it('as a clip list each row states the rate that it counts at, and comes back with the same points', async () => {
    const { timelineIds } = await bring(theirs('own'));
    const settings = { timelineIds, destination: { shelfId: small.vault.id, path: '' }, folderName: '', format: 'csv' as const };
    await go(small, await small.plan({ kind: 'export', settings }));
    const text = readFileSync(join(small.vault.root, 'Bell.csv'), 'utf8');
    expect(text.split('\r\n').slice(0, 3)).toEqual([
      'Name,File,Reel,Start,In,Out,Bin,Notes,Rate',
      'casting.mov,casting.mov,casting,,10:01:01:00,10:01:05:00,,,23.976',
      'strike.mov,strike.mov,strike,,11:00:01:25,11:00:05:25,,,50',
    ]);
    const read = readTimelineFile(text, PAL).clips.map(
      ({ document }) => (document.source_range as { start_time: { value: number; rate: number } }).start_time,
    );
    expect(read.map(({ value, rate }) => [value, rate])).toEqual([
      [864_000 + 1464, 24_000 / 1001],
      [11 * 3600 * 50 + 75, 50],
      [12 * 3600 * 25 + 50, 25],
    ]);
  });

  it('can be counted otherwise, as a whole and for one event, and goes back to what it was', async () => {
    const { timelineIds } = await bring(theirs('own'));
    const before = small.house.catalogue.timelines.document(timelineIds[0]!);
    const list = await recount(timelineIds[0]!, 'list');
    // 10:01:01:00 of the list lies 61 s minus 36 s into the file, by time.
    const byList = await reads(list);
    expect(byList[0]).toBe(Math.floor((36_061 * 24_000) / 1001) - 36_000 * 24);
    const one = await recount(list, 'source', [0]);
    expect(await reads(one)).toEqual([1464, byList[1], 50]);
    const media = await recount(await recount(one, null, [0]), null);
    expect(small.house.catalogue.timelines.document(media)).toBe(before);
    // The same list again is the timeline that is here.
    expect((await bring(theirs('own'))).timelineIds).toEqual([media]);
  });

  it('whose media is found later says that it would be counted otherwise, and is counted again', async () => {
    const { catalogue } = small.house;
    const asked = { ask: 'bring-in' as const, projectId: small.projectId, name: 'bell.edl', source: { text: theirs('own') }, folder: null };
    const { timelineIds } = await study().answer({ ...asked, rate: PAL, findings: [], match: null });
    expect((await view(timelineIds[0]!)).counts).toBeNull();
    const items = new Map(catalogue.items.onShelf(small.source.id).map((item) => [item.place.path, item.id]));
    const choices = Object.fromEntries(catalogue.clips.ofProject(small.projectId).map(({ id, name }) => [id, items.get(name)!]));
    await go(small, await small.plan({ kind: 'relink', settings: { scope: null, choices } }));
    expect((await view(timelineIds[0]!)).counts).toEqual({ events: 2, bySource: 0, chosen: null, isOutdated: true });
    const again = await recount(timelineIds[0]!, null);
    expect([await reads(again), (await view(again)).counts!.isOutdated]).toEqual([[1464, 75, 50], false]);
  });

  it('whose writer counts in frames of the list is read so: only that lies within the files', async () => {
    const { timelineIds, findings } = await bring(theirs('list'));
    const own = await reads(timelineIds[0]!);
    // To the frame below, as 25 frames a second tell a place in 23.976: never one frame later, at most one earlier.
    expect([1463, 1464]).toContain(own[0]);
    expect([74, 75]).toContain(own[1]);
    expect(own[2]).toBe(50);
    expect(findings.some(({ code, message }) => code === 'source-count' && message.includes('in frames of the list'))).toBe(true);
  });

  it('as OTIO each source states its own rate: nothing is to be settled', async () => {
    const { timelineIds, findings } = await bring(theirs('otio'), 'bell.otio');
    expect(await reads(timelineIds[0]!)).toEqual([1464, 75, 50]);
    expect(findings.filter(({ code }) => code.startsWith('source-count'))).toEqual([]);
  });
});
