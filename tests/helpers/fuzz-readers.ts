/**
 * Run in a process of its own: one reader of foreign bytes, fed with what was good once and is broken at random. Says as
 * JSON how often, how long the slowest took, and what was thrown that is no word for the user.
 *   node fuzz-readers.mjs READER SEED COUNT FOLDER FILE...
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { readBagInfo, readManifest } from '../../src/core/archive/bagit/bag';
import { rate } from '../../src/core/time/rate';
import { listEntries, readEntryText } from '../../src/server/bundles/zip-entries';
import { decodeText } from '../../src/server/projects/decode-text';
import { probeFacts } from '../../src/server/media/probe';
import { elementText, readXml } from '../../src/server/media/xml';
import { readWavHeader, readWavText } from '../../src/server/media/wav-file';

/** Errors that are sentences for the user. */
const WORDS = ['BundleError', 'ProbeError', 'CrateError'];

const [reader = '', seed = '1', count = '1', folder = '.', ...files] = process.argv.slice(2);
const sources = files.map((file) => readFileSync(file));
const path = join(folder, `fuzz-${process.pid}`);

const READERS: Readonly<Record<string, (bytes: Buffer) => unknown>> = {
  timeline: (bytes) => readTimelineFile(decodeText(bytes).text, rate(25)),
  bag: (bytes) => [readManifest(bytes.toString('utf8')), readBagInfo(bytes.toString('utf8'))],
  xml: (bytes) => elementText(readXml(bytes.toString('utf8')), 'TAPE'),
  wav: async (bytes) => {
    writeFileSync(path, bytes);
    await readWavHeader(path);
    return readWavText(path, 'iXML');
  },
  zip: async (bytes) => {
    writeFileSync(path, bytes);
    await listEntries(path);
    return readEntryText(path, 'content.otio', 1_000_000, 1000);
  },
  media: (bytes) => {
    writeFileSync(path, bytes);
    return probeFacts(path, null);
  },
};

/** Mulberry32: the same seed gives the same numbers anywhere. */
function numbers(from: number): () => number {
  let state = from >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

const next = numbers(Number(seed));
const below = (most: number) => Math.floor(next() * most);
const FILLS = [' ', '\t', '\0', '0', '9', '-', '.', '<TAPE>', '[', '{"a":', '"', ';', ',', '001  A ', 'M2 ', '\r\n', '\u00ff', 'Label: x\n '];

function broken(source: Buffer): Buffer {
  let bytes = Buffer.from(source);
  for (let change = below(4) + 1; change > 0; change--) {
    const at = below(bytes.length + 1);
    const length = below(Math.min(2000, bytes.length - at + 1));
    const [before, piece, after] = [bytes.subarray(0, at), bytes.subarray(at, at + length), bytes.subarray(at + length)];
    const kind = below(6);
    if (kind === 0) bytes = Buffer.concat([before, after]);
    else if (kind === 1) bytes = Buffer.concat([before, piece, piece, after]);
    else if (kind === 2)
      bytes = Buffer.concat([before, Buffer.from(FILLS[below(FILLS.length)]!.repeat(below(3) === 0 ? 100_000 : below(50))), after]);
    else if (kind === 3) bytes = Buffer.concat([before, Buffer.from(Array.from({ length: below(16) }, () => below(256))), after]);
    else if (kind === 4 && bytes.length > 8) bytes.writeUInt32LE([0, 1, 0xffff_ffff, 0x7fff_ffff, 0xffff_fff8][below(5)]!, below(bytes.length - 4));
    else bytes = Buffer.from(before);
  }
  return bytes;
}

const answer = { cases: 0, slowestMs: 0, wrong: [] as string[] };
for (; answer.cases < Number(count); answer.cases++) {
  const bytes = broken(sources[below(sources.length)]!);
  const began = performance.now();
  try {
    await READERS[reader]!(bytes);
  } catch (error) {
    const { name, message } = { name: (error as Error).constructor.name, message: String((error as Error).message) };
    if (!WORDS.includes(name)) answer.wrong.push(`case ${answer.cases}: ${name} ${message.slice(0, 200)}`);
  }
  answer.slowestMs = Math.max(answer.slowestMs, performance.now() - began);
}
console.log(JSON.stringify(answer));
