/** What docs/api.md says of codes, limits, events, settings and flags is what the code does, both ways. */
import { readFileSync } from 'node:fs';
import { fdir } from 'fdir';
import { describe, expect, it } from 'vitest';
import { DEEPEST_NESTING } from '../../src/core/interchange/otio/otio-types';
import { DEEPEST_BODY, LARGEST_BODY_BYTES, LARGEST_LIST_BYTES } from '../../src/server/api/endpoint';
import { FINDINGS } from '../../src/core/words/finding-codes';
import { PROBLEM_CODES } from '../../src/server/errors/problem-codes';
import { MOST_READERS } from '../../src/server/api/news-desk';
import { KINDS, type PlanKind } from '../../src/server/kinds/kinds';
import { MOST_OUTPUT_BYTES } from '../../src/server/bridges/run-bridge';
import { LOOK_MEMORY_BYTES, MOST_PIXELS } from '../../src/server/media/ffmpeg';
import { POSTER_CACHE_BYTES, POSTERS_AT_ONCE } from '../../src/server/media/poster';
import { PREVIEW_CACHE_BYTES, PREVIEWS_AT_ONCE } from '../../src/server/media/previews';
import { LARGEST_FILE_BYTES, MOST_WAITING_BYTES } from '../../src/server/uploads/uploads';

const api = readFileSync('docs/api.md', 'utf8');
const sources = new fdir()
  .withFullPaths()
  .filter((path) => path.endsWith('.ts') && !path.endsWith('problem-codes.ts'))
  .crawl('src/server')
  .sync()
  .map((path) => readFileSync(path, 'utf8'))
  .join('\n');
const core = new fdir()
  .withFullPaths()
  .filter((path) => path.endsWith('.ts') && !path.endsWith('.test.ts') && !path.endsWith('finding-codes.ts'))
  .crawl('src/core')
  .sync()
  .map((path) => readFileSync(path, 'utf8'))
  .join('\n');

/** Rows of the table below a heading, as trimmed cells. */
function table(heading: string): string[][] {
  const section = api.split(`\n## ${heading}\n`)[1]!.split('\n## ')[0]!;
  const lines = section.split('\n').filter((line) => line.startsWith('|'));
  return lines.slice(2).map((line) => line.split('|').slice(1, -1).map((cell) => cell.trim())); // prettier-ignore
}
const unique = (all: readonly string[]) => [...new Set(all)].sort();

it('every status and code of a problem, and each is used', () => {
  const told = table('Problems').map(([status, code]) => [code!.replaceAll('`', ''), Number(status)]);
  expect(Object.fromEntries(told)).toEqual(PROBLEM_CODES);
  expect(Object.keys(PROBLEM_CODES).filter((code) => !sources.includes(`'${code}'`))).toEqual([]);
  // What is thrown without being in the catalogue would be told as 400.
  const thrown = [...sources.matchAll(/new Problem\(\s*'([a-z-]+)'/g)].map(([, code]) => code!);
  expect(thrown.filter((code) => !(code in PROBLEM_CODES))).toEqual([]);
});

it('every limit', () => {
  const size = (bytes: number) => (bytes >= 1024 ** 3 ? `${bytes / 1024 ** 3} GiB` : `${bytes / 1024 ** 2} MiB`);
  expect(table('Limits').map(([, limit]) => limit)).toEqual([
    size(LARGEST_BODY_BYTES),
    size(LARGEST_LIST_BYTES),
    String(DEEPEST_BODY),
    size(LARGEST_FILE_BYTES),
    `${size(MOST_WAITING_BYTES)}, a day`,
    MOST_PIXELS.toLocaleString('en'),
    size(LOOK_MEMORY_BYTES),
    String(POSTERS_AT_ONCE),
    size(POSTER_CACHE_BYTES),
    String(PREVIEWS_AT_ONCE),
    size(PREVIEW_CACHE_BYTES),
    size(MOST_OUTPUT_BYTES),
    String(MOST_READERS),
    String(DEEPEST_NESTING),
  ]);
});

it('every event', () => {
  const told = [...sources.matchAll(/eventOf\('([a-z]+)'/g)].map(([, name]) => name!);
  expect(unique(table('Events').map(([name]) => name!.replaceAll('`', '')))).toEqual(unique(told));
});

describe('settings of plans', () => {
  const rows = new Map(api.split('Settings by kind:')[1]!.split('\n## ')[0]!.split('\n').filter((line) => /^\| `[\w-]+`/.test(line)).map((line) => [/`([\w-]+)`/.exec(line)![1]!, line])); // prettier-ignore
  it('every kind', () => expect([...rows.keys()].sort()).toEqual(Object.keys(KINDS).sort()));

  it.each(Object.keys(KINDS))('%s: every setting', (kind) => {
    const keys = Object.keys((KINDS[kind as PlanKind].form.describe() as { keys: object }).keys);
    const row = kind === 'crate' ? `${rows.get('crate')} ${rows.get('pull')}` : rows.get(kind)!;
    for (const key of keys) expect(row).toContain(`\`${key}`);
  });
});

it('every flag and variable, with its default', () => {
  const config = readFileSync('src/server/config.ts', 'utf8');
  const flags = [
    ...config
      .split('options: {')[1]!
      .split('});')[0]!
      .matchAll(/([\w-]+)'?: \{ type/g),
  ].map(([, flag]) => `--${flag}`);
  const variables = [...config.matchAll(/env\.(MILL_SHELF_\w+)/g)].map(([, name]) => name!);
  const rows = table('Flags and variables').map((cells) => cells.map((cell) => cell.replaceAll('`', '')));
  expect(unique(rows.map(([flag]) => flag!))).toEqual(unique(flags));
  expect(unique(rows.map(([, variable]) => variable!).filter((name) => name !== '–'))).toEqual(unique(variables));
  for (const [flag, , value] of rows) if (/^[\d.]+$|^data$/.test(value!)) expect([flag, config.includes(`'${value}'`)]).toEqual([flag, true]);
});

it('every finding is in docs/findings.md as severe as it is told, and is told somewhere', () => {
  const rows = readFileSync('docs/findings.md', 'utf8').matchAll(/^\| `([a-z0-9-]+)`\s*\| ([a-z, ]+?)\s*\| (.*?)\s*\|$/gm);
  const told = [...rows].map(([, code, is, title]) => [code, { is: is!.split(', '), title }]);
  expect(Object.fromEntries(told)).toEqual(FINDINGS);
  expect(Object.keys(FINDINGS).filter((code) => !sources.includes(`'${code}'`) && !core.includes(`'${code}'`))).toEqual([]);
});
