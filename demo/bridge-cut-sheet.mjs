// A bridge: turns a cut sheet (a title, then lines of file, timecode at 25 fps and length in frames) into OTIO.
//   node bridge-cut-sheet.mjs INPUT OUTPUT
import { readFileSync, writeFileSync } from 'node:fs';

const [input, output] = process.argv.slice(2);
const [title, ...lines] = readFileSync(input, 'utf8').trim().split('\n');
const time = (value) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: 25, value });
const range = (start, length) => ({ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(length) });

const children = lines.map((line) => {
  const [file, label, length] = line.split('\t');
  const [hours, minutes, seconds, frames] = label.split(':').map(Number);
  return {
    OTIO_SCHEMA: 'Clip.2',
    name: file.replace(/\.[^.]*$/, ''),
    source_range: range(((hours * 60 + minutes) * 60 + seconds) * 25 + frames, Number(length)),
    media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: file } },
    active_media_reference_key: 'DEFAULT_MEDIA',
  };
});
const track = { OTIO_SCHEMA: 'Track.1', name: 'V1', kind: 'Video', children };
const stack = { OTIO_SCHEMA: 'Stack.1', name: 'tracks', children: [track] };
writeFileSync(output, JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: title, global_start_time: time(900000), tracks: stack }));
console.log(`${children.length} lines of the sheet were read; a sheet has no sound.`);
