/**
 * Edit decision lists that nobody here wrote: the test data of otio-cmx3600-adapter 1.0.0 (Apache License 2.0; titles
 * changed, one list cut short), with media made for them. The names of the files are told from the text of the lists by a few plain lines of
 * this test, not by our reader. Timelines that the adapter makes of the same lists must find the same files.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fileName } from '../../src/core/media/item';
import { rate } from '../../src/core/time/rate';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { AddressBook } from '../../src/server/projects/address-book';
import { matchNamed, namedBy } from '../../src/server/projects/bring-in';
import { ffmpeg, makeHouse, type SmallHouse } from '../helpers/small-house';

const LISTS = fileURLToPath(new URL('./vectors/edl/adapter/', import.meta.url));

/** Lists with a word on what they tell: `named` files are taken; where a reel that is nobody's speaks against them they come first. */
const NAMED = ['file_behind_clip', 'file_behind_file', 'frame_as_name', 'no_spaces', 'screening', 'colour', 'dissolve_3', 'speed_1', 'speed_2', 'gap']; // prettier-ignore
const FOREIGN_REEL = ['rate_25', 'dissolve_1', 'dissolve_2', 'wipe', 'mismatch'];
const REEL_ONLY = ['transition', 'dissolve_4'];
const rateOf = (list: string) => rate(list === 'rate_25' || list === 'mismatch' ? 25 : 24);

const MOST_EVENTS = 10;

interface Wanted {
  readonly file: string;
  readonly start: string;
}

/** Where the first of a file's events stands, a little before it. */
function hourOf(label: string): string {
  return `${label.slice(0, 2)}:${label.startsWith('01') ? '00' : label.slice(3, 5)}:00:00`;
}

/** Files that the events of a list read, by the plain text: SOURCE FILE, else the clip, else the reel. */
function filesOf(text: string): Wanted[] {
  const found = new Map<string, string>();
  const events = text.split(/\r?\n(?=\d{3,6}\s)/).filter((part) => /^\d{3,6}\s/.test(part));
  for (const event of events) {
    const columns = event.split('\n')[0]!.trim().split(/\s+/);
    const isDissolve = /^[DW]/.test(columns[3]!);
    const [sourceIn, sourceOut] = columns.slice(isDissolve ? 5 : 4);
    const said = (word: string) => new RegExp(`${word}: *(.+)`).exec(event)?.[1]?.trim();
    // A line of no length only names what a dissolve comes from.
    if (sourceIn === sourceOut) continue;
    const behind = said('FROM FILE') ?? said('FROM CLIP');
    const clip = (isDissolve ? said('TO CLIP NAME') : undefined) ?? said('FROM CLIP NAME');
    const name = behind?.split('\\').at(-1) ?? said('SOURCE FILE') ?? clip?.replace(/ FF$/, '').replace(/ \(\d+(\.\d+)? FPS\)$/, '') ?? `${columns[1]!}plate`; // prettier-ignore
    if (!found.has(name)) found.set(name, hourOf(sourceIn!));
  }
  return [...found].map(([file, start]) => ({ file, start }));
}

let small: SmallHouse;
/** Of a long list its first events: each file is made. */
const text = (list: string) => readFileSync(join(LISTS, `${list}.edl`), 'utf8').split(/\r?\n(?=\d{3,6}\s)/).slice(0, MOST_EVENTS + 1).join('\n'); // prettier-ignore

beforeAll(async () => {
  small = makeHouse();
  const base = (r: number) => join(small.folder, `base${r}.mov`);
  for (const r of [24, 25]) await ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=32x18:r=${r}:d=60`, '-c:v', 'mjpeg', '-q:v', '20', '-y', base(r));
  for (const list of [...NAMED, ...FOREIGN_REEL, ...REEL_ONLY]) {
    const folder = join(small.source.root, list);
    mkdirSync(folder);
    for (const { file, start } of filesOf(text(list))) {
      const frame = /^(.*)\.(\d{4})\.exr$/.exec(file);
      // Pictures one by one.
      if (frame) await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=32x18:r=24:d=9', '-start_number', String(Number(frame[2])), '-y', join(folder, `${frame[1]}.%04d.exr`)); // prettier-ignore
      else await ffmpeg('-i', base(rateOf(list).num), '-c', 'copy', '-timecode', start, '-metadata', `comment=${randomUUID()}`, '-y', join(folder, /\.mov$/.test(file) ? file : `${file}.mov`)); // prettier-ignore
    }
  }
  await small.stocktake(small.source.id);
}, 180_000);
afterAll(() => small.remove());

/** By source: the file that comes first, and whether it is taken. */
function matchesOf(content: string, list: string) {
  const { catalogue, mounts } = small.house;
  const file = readTimelineFile(content, rateOf(list));
  const scope = { shelfId: small.source.id, path: list };
  const { open, decisions } = matchNamed(catalogue, mounts, new AddressBook(catalogue, mounts, null), namedBy(file), { scope });
  return open.map(({ key }) => {
    const { order, taken } = decisions.get(key)!;
    return { first: order[0] ? fileName(order[0].candidate.place.path) : null, taken: taken !== null };
  });
}

/** As the stock calls it. */
const stocked = (list: string) => readdirSync(join(small.source.root, list)).filter((name) => !/\.\d{4}\.exr$/.test(name)).length + new Set(readdirSync(join(small.source.root, list)).flatMap((name) => /^(.*)\.\d{4}\.exr$/.exec(name)?.[1] ?? [])).size; // prettier-ignore

/** What the reference adapter makes of a list. */
function adapted(list: string): string {
  const script =
    'import sys, opentimelineio as otio\nprint(otio.adapters.write_to_string(otio.adapters.read_from_file(sys.argv[1], rate=float(sys.argv[2])), "otio_json"))';
  const copy = join(small.folder, `${list}.edl`);
  writeFileSync(copy, text(list));
  return execFileSync(resolve('.venv/bin/python'), ['-c', script, copy, String(rateOf(list).num)], { encoding: 'utf8', maxBuffer: 64 << 20 });
}

describe.each(NAMED)('%s', (list) => {
  it('every source is taken, each file once', () => {
    const found = matchesOf(text(list), list);
    expect(found.filter(({ taken }) => !taken)).toEqual([]);
    expect(new Set(found.map(({ first }) => first)).size).toBe(stocked(list));
  });
});

describe.each([...FOREIGN_REEL, ...REEL_ONLY])('%s', (list) => {
  it('every source finds its file first; a reel that is nobody’s keeps it from being taken', () => {
    const found = matchesOf(text(list), list);
    expect(found.map(({ first }) => first)).not.toContain(null);
    expect(new Set(found.map(({ first }) => first)).size).toBe(stocked(list));
    expect(found.every(({ taken }) => taken)).toBe(REEL_ONLY.includes(list));
  });
});

it.each([...NAMED, ...FOREIGN_REEL, ...REEL_ONLY].filter((list) => list !== 'mismatch'))(
  '%s as the adapter reads it finds the same files',
  (list) => {
    const files = (found: ReturnType<typeof matchesOf>) => [...new Set(found.map(({ first }) => first))].sort();
    expect(files(matchesOf(adapted(list), list))).toEqual(files(matchesOf(text(list), list)));
  },
);
