/** What we write, handed live to OpenTimelineIO 0.18.1: the same clips, ranges and effects must be there. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { formatOtio, withReferences } from '../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { clipEvents } from '../../src/core/project/timeline';
import { rate } from '../../src/core/time/rate';

const folder = mkdtempSync(join(tmpdir(), 'mill-otio-'));
afterAll(() => rmSync(folder, { recursive: true }));

const SCRIPT = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_file(sys.argv[1])
print(json.dumps({
  "duration": t.duration().value,
  "clips": [[c.name, c.trimmed_range().start_time.value, c.trimmed_range().duration.value, [e.time_scalar for e in c.effects if hasattr(e, "time_scalar")]] for c in t.find_clips()],
}))
`;

function reference(text: string): { duration: number; clips: [string, number, number, number[]][] } {
  const file = join(folder, 'a.otio');
  writeFileSync(file, text);
  return JSON.parse(execFileSync(resolve('.venv/bin/python'), ['-c', SCRIPT, file], { encoding: 'utf8' })) as ReturnType<typeof reference>;
}

const vector = (name: string) => readFileSync(new URL(`./vectors/${name}`, import.meta.url), 'utf8');

describe.each(['otio/fine_cut_0.otio', 'otio/fine_cut_1.otio', 'otio/fine_cut_2.otio', 'edl/reel_1.edl', 'edl/flat.edl'])(
  '%s, read and written by us',
  (name) => {
    const { timelines } = readTimelineFile(vector(name), rate(25));
    const { timeline, document } = timelines[0]!;
    const text = formatOtio(withReferences(document, () => null));

    it('opens there with the clips and ranges that we see', () => {
      const theirs = reference(text);
      const ours = [...clipEvents(timeline.tracks)].map((event) => [event.name, event.sourceIn.value, event.sourceDuration.value]);
      expect(theirs.clips.map(([clip, start, duration]) => [clip, start, duration])).toEqual(ours);
    });

    it('is byte-stable: read again and written again it is the same', () => {
      const again = readTimelineFile(text, rate(25)).timelines[0]!;
      expect(formatOtio(withReferences(again.document, () => null))).toBe(text);
      expect(again.timeline).toEqual(timeline);
    });
  },
);
