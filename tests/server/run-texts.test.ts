/** Long texts that runs write: kept once, apart from the journal, and on the disk what they were in the plan. */
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { Plan } from '../../src/core/planning/plan/plan';
import type { Step, WriteStep } from '../../src/core/planning/plan/step';
import { openDatabase } from '../../src/server/catalogue/database';
import { planDigest } from '../../src/server/kinds/make-plan';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { plain } from '../helpers/snapshots';
import { bringSounds, cutOf, cutTimeline, endOf, go, pullSettings } from '../helpers/trust-house';

const EVENTS = 400;
let small: SmallHouse;
let timelineId: string;
beforeEach(async () => {
  small = makeHouse();
  await bringSounds(small, 'bell.wav', 'säge ✂ 鐘.wav');
  timelineId = small.bring(cutTimeline('Läuten — 鐘', Array.from({ length: EVENTS }, (_, index) => cutOf(index % 2 ? 'bell.wav' : 'säge ✂ 鐘.wav', index % 20, 5)), 'Audio')); // prettier-ignore
});
afterEach(() => small.remove());

const database = () => openDatabase(join(small.folder, 'data/catalogue.sqlite'), true);
const pull = (own = {}) => small.plan({ kind: 'pull', settings: pullSettings(small, timelineId, own) });
const written = ({ steps }: Plan) => steps.find((step): step is WriteStep => step.action === 'write')!;
const textIn = (plan: Plan) => {
  const { content } = written(plan);
  if (content.type !== 'timeline') throw new Error('no timeline is written');
  return plain(content.text);
};

it('are in the journal once, packed, whoever holds them; the files and the timeline that comes in are those of the plan', async () => {
  const plan = await pull();
  const text = textIn(plan);
  expect(text.length).toBeGreaterThan(100_000);
  const { run } = await go(small, plan);
  expect(run.state).toBe('done');
  const db = database();
  const longest = db.prepare('SELECT max(length(step)) FROM run_steps WHERE run_id = ?').pluck().get(run.id) as number;
  const kept = db.prepare('SELECT sha256, length(packed) AS bytes FROM run_texts WHERE run_id = ?').all(run.id) as {
    sha256: string;
    bytes: number;
  }[];
  db.close();
  expect(longest).toBeLessThan(4000);
  expect(kept).toHaveLength(1);
  expect(kept[0]!.bytes).toBeLessThan(text.length / 8);
  const file = join(small.vault.root, written(plan).to!.path);
  expect(readFileSync(file, 'utf8')).toBe(text);
  // By another tool: the text is kept under its own SHA-256.
  expect(execFileSync('sha256sum', [file], { encoding: 'utf8' }).split(' ')[0]).toBe(kept[0]!.sha256);
  const [came] = small.house.catalogue.timelines.entries(small.projectId).filter(({ name }) => name.endsWith('pulled'));
  expect(came!.id).not.toBe(timelineId);
  expect(small.house.catalogue.timelines.readsOf(came!.id)!.places.length).toBe(small.house.catalogue.timelines.readsOf(timelineId)!.places.length);
});

it('count for the digest, though they are not written out for it', async () => {
  const plan = await pull();
  const other = (text: string): Plan => ({ ...plan, steps: plan.steps.map((step): Step => (step === written(plan) ? { ...step, content: { type: 'timeline', text, parts: [] } } : step)) }); // prettier-ignore
  const text = textIn(plan);
  const digests = [text, `${text} `, text.replace('bell', 'Bell'), text.slice(0, 50)].map((own) => planDigest(other(own)));
  expect(new Set(digests).size).toBe(4);
  expect(planDigest(other(text))).toBe(digests[0]);
});

it('journals of earlier versions hold them in their steps, and go on', async () => {
  const plan = await pull({ folderName: 'old' });
  const { runs } = small.house.catalogue;
  const id = runs.add(plan, new Date().toISOString());
  const db = openDatabase(join(small.folder, 'data/catalogue.sqlite'));
  plan.steps.forEach((step, ordinal) => db.prepare('UPDATE run_steps SET step = ? WHERE run_id = ? AND ordinal = ?').run(JSON.stringify(step), id, ordinal)); // prettier-ignore
  db.prepare('DELETE FROM run_texts').run();
  db.close();
  small.house.runner.begin(id);
  const { run } = await endOf(small, id);
  expect(run.state).toBe('done');
  expect(readFileSync(join(small.vault.root, written(plan).to!.path), 'utf8')).toBe(textIn(plan));
});

it('a text that is not there any more fails its step with words; nothing half-written is left, the rest is done', async () => {
  const plan = await pull({ folderName: 'lost' });
  const { runs } = small.house.catalogue;
  const id = runs.add(plan, new Date().toISOString());
  const db = openDatabase(join(small.folder, 'data/catalogue.sqlite'));
  db.prepare('DELETE FROM run_texts').run();
  db.close();
  small.house.runner.begin(id);
  const { run, rows } = await endOf(small, id);
  const failed = rows.filter(({ state }) => state === 'failed');
  expect([run.state, failed.map(({ step }) => step.action)]).toEqual(['failed', ['write']]);
  expect(failed[0]!.message).toMatch(/is not in the journal/);
  const folder = join(small.vault.root, 'lost/timelines');
  expect(existsSync(folder) ? readdirSync(folder) : []).toEqual([]);
  expect(rows.filter(({ step }) => step.action === 'copy').every(({ state }) => state === 'done')).toBe(true);
});

it('come whole out of a bundle, as unzip reads it', async () => {
  const settings = { timelineIds: [timelineId], format: 'otioz' as const, destination: { shelfId: small.vault.id, path: '' }, folderName: '' };
  const plan = await small.plan({ kind: 'export', settings });
  const { run } = await go(small, plan);
  expect(run.state).toBe('done');
  const { content, to } = written(plan);
  if (content.type !== 'zip') throw new Error('no bundle');
  const entry = content.entries.find(({ path }) => path === 'content.otio')!;
  const own = 'text' in entry ? plain(entry.text) : '';
  expect(own.length).toBeGreaterThan(100_000);
  expect(execFileSync('unzip', ['-p', join(small.vault.root, to!.path), 'content.otio'], { encoding: 'utf8', maxBuffer: 1e8 })).toBe(own);
});
