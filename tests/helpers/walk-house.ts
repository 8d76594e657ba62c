/**
 * A small house lived in at random: plans, runs, kills, pauses, undo, unplugged drives and changes from outside, against
 * a server of its own process. It keeps its own account of what may be where, and compares the disk with every word
 * the server says.
 */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { formatOtio } from '../../src/core/interchange/otio/otio-writer';
import { readManifest } from '../../src/core/archive/bagit/bag';
import type { ClipView } from '../../src/server/projects/views/clip';
import type { RunSummary, RunView } from '../../src/server/runs/views/run';
import type { Window } from '../../src/core/lists/list-window';
import type { StepRow } from '../../src/server/catalogue/runs';

/** A run with its whole journal. */
type Told = RunView & { readonly rows: readonly StepRow[] };
import type { CrateRow } from '../../src/server/catalogue/crates';
import { LiveServer } from './live-server';
import { alterInSecret, cutOf, cutOfSequence, cutTimeline, filesBelow, makeFrames, wavBytes } from './trust-house';

const SHELVES = ['FOUNDRY-A', 'VAULT'] as const;
type Shelf = (typeof SHELVES)[number];
const SOUNDS = ['one.wav', 'two.wav', 'long.wav'];
const FRAMES = Array.from({ length: 6 }, (_, index) => `pour/pour.${1001 + index}.dpx`);

const sumOf = (path: string) => createHash('sha256').update(readFileSync(path)).digest('hex');

export class WalkHouse {
  readonly folder = mkdtempSync(join(tmpdir(), 'mill-walk-'));
  private readonly outside = mkdtempSync(join(tmpdir(), 'mill-away-'));
  readonly server = new LiveServer(this.folder);
  private ids: Record<Shelf, string> = { 'FOUNDRY-A': '', VAULT: '' };
  private projectId = '';
  private timelineIds: string[] = [];
  private made = 0;
  /** Every content a source ever had, by its path. */
  private readonly versions = new Map<string, Set<string>>();
  /** What stands on FOUNDRY-A as the walk left it. */
  private readonly originals = new Map<string, string>();
  /** Files of the vault that the walk put or altered there, with their content. */
  private readonly mine = new Map<string, string>();
  /** When the walk altered a file of the vault or took it away, by its path: what was said before is no lie. */
  private readonly meddled = new Map<string, number>();
  readonly log: string[] = [];

  path(shelf: Shelf, name = ''): string {
    return join(this.isPlugged(shelf) ? this.folder : this.outside, shelf, name);
  }

  isPlugged(shelf: Shelf): boolean {
    return existsSync(join(this.folder, shelf));
  }

  async open(): Promise<void> {
    mkdirSync(join(this.folder, 'FOUNDRY-A/pour'), { recursive: true });
    mkdirSync(join(this.folder, 'VAULT'));
    for (const [index, name] of SOUNDS.entries()) this.putSound(name, index);
    await makeFrames(join(this.folder, 'FOUNDRY-A/pour'), 'pour.', 1001, FRAMES.length);
    for (const name of FRAMES) this.remember(name);
    await this.server.start();
    for (const shelf of SHELVES) {
      const { id } = await this.server.post<{ id: string }>('shelves', { path: join(this.folder, shelf) });
      this.ids[shelf] = id;
      await this.stocktake(shelf);
    }
    this.projectId = (await this.server.post<{ id: string }>('projects', { name: 'Walk', rate: { num: 25, den: 1 } })).id;
    const cuts = [
      cutTimeline('Bells', [...SOUNDS.map((name) => cutOf(name, 0, 20)), cutOfSequence('pour', 'pour.', 1001, 6, 0, 6)]),
      cutTimeline('Ring', [cutOf('one.wav', 5, 10), cutOf('long.wav', 5, 10)], 'Audio'),
    ];
    for (const cut of cuts) {
      const body = { name: 'cut.otio', text: formatOtio(cut) };
      this.timelineIds.push(...(await this.server.post<{ timelineIds: string[] }>(`projects/${this.projectId}/timelines`, body)).timelineIds);
    }
  }

  async close(): Promise<void> {
    await this.server.kill();
    for (const path of [this.folder, this.outside]) rmSync(path, { recursive: true, force: true });
  }

  private putSound(name: string, seed: number): void {
    writeFileSync(this.path('FOUNDRY-A', name), wavBytes(name === 'long.wav' ? 4_000_000 : 48_000, [], seed));
    this.remember(name);
  }

  private remember(name: string): void {
    const sum = sumOf(this.path('FOUNDRY-A', name));
    this.originals.set(name, sum);
    const versions = this.versions.get(name.split('/').at(-1)!) ?? new Set();
    this.versions.set(name.split('/').at(-1)!, versions.add(sum));
  }

  // What people do.

  async pull(which: number, folder: number): Promise<void> {
    await this.run('pull', { ...this.takes(which), folderName: `pull${folder}` });
  }

  async crate(which: number): Promise<void> {
    await this.run('crate', { ...this.takes(which), crateName: `crate${this.made++}`, note: '' });
  }

  /** A crate that is broken off in its middle, meddled with, and taken up again. */
  async breakOff(n: number): Promise<void> {
    await this.crate(n);
    await wait(15 * (n % 5));
    if (n % 3 === 0) await this.killAndStart();
    if (n % 3 === 1) this.plug('VAULT', false);
    await this.order('cancel', 0);
    await this.settle();
    this.plug('VAULT', true);
    for (let times = 0; times < 3; times++)
      this.changeVault(n * 7 + times * 5, n % 2 === 0 ? 'taken away' : (['taken away', 'altered', 'joined'] as const)[times]!);
    await wait(600);
    await this.order('resume', 0);
  }

  async openCrate(index: number): Promise<void> {
    const crates = await this.server.get<CrateRow[]>(`projects/${this.projectId}/crates`);
    const crate = crates[index % Math.max(1, crates.length)];
    if (crate) await this.run('restore', { crate: crate.place, projectName: null });
  }

  async relink(): Promise<void> {
    await this.run('relink', { scope: null, choices: {} });
  }

  async undo(index: number): Promise<void> {
    const run = await this.pick(index);
    if (run) await this.run('undo', { runId: run.id, confirmed: true });
  }

  async order(what: 'pause' | 'resume' | 'cancel', index: number): Promise<void> {
    const run = await this.pick(index);
    if (run) await this.mayRefuse(this.server.ask('POST', `runs/${run.id}/${what}`, {}));
  }

  async killAndStart(): Promise<void> {
    await this.server.kill();
    await this.server.start();
  }

  async stocktake(shelf: Shelf): Promise<void> {
    const started = await this.server.ask('POST', `shelves/${this.ids[shelf]}/stocktake`, {});
    await this.mayRefuse(Promise.resolve(started));
    if (started.status < 400) await this.server.get(`shelves/${this.ids[shelf]}/stocktake?wait=end`);
  }

  plug(shelf: Shelf, plugged: boolean): void {
    if (this.isPlugged(shelf) === plugged) return;
    const [inside, away] = [join(this.folder, shelf), join(this.outside, shelf)];
    renameSync(plugged ? away : inside, plugged ? inside : away);
  }

  /** A source gets other content, in place or by another file of equal size; its time may be put back. */
  changeSource(index: number, how: 'in place' | 'replaced' | 'taken away'): void {
    const name = [...SOUNDS, FRAMES[2]!][index % 4]!;
    const path = this.path('FOUNDRY-A', name);
    if (how === 'taken away') {
      rmSync(path, { force: true });
      this.originals.delete(name);
    } else if (how === 'in place' && existsSync(path)) {
      alterInSecret(path, 60, `X${this.made++}`);
      this.remember(name);
    } else if (name.endsWith('.wav')) this.putSound(name, this.made++);
  }

  /** A file of the vault is altered, taken away, or joined by one of the user's own. */
  changeVault(index: number, how: 'altered' | 'taken away' | 'joined'): void {
    const root = this.path('VAULT');
    const all = filesBelow(root).filter((path) => !path.endsWith('.mill-part'));
    const path = all[index % Math.max(1, all.length)];
    if (path === undefined) return;
    if (how === 'taken away') {
      rmSync(join(root, path));
      this.mine.delete(path);
      this.meddled.set(path, Date.now());
    } else {
      const own = how === 'joined' ? join(dirname(path), `mine ${this.made++}.txt`) : path;
      if (how === 'joined') writeFileSync(join(root, own), `mine ${own}`);
      else alterInSecret(join(root, own), 50, `Y${this.made++}`);
      this.mine.set(own, sumOf(join(root, own)));
      this.meddled.set(own, Date.now());
    }
  }

  private takes(which: number) {
    return {
      timelineIds: [this.timelineIds[which % 2]!],
      media: which % 3 === 0 ? 'parts' : 'whole',
      headFrames: 2,
      tailFrames: 2,
      joinGapFrames: 0,
      countDisabled: false,
      destination: { shelfId: this.ids.VAULT, path: '' },
    };
  }

  private async run(kind: string, settings: unknown): Promise<void> {
    const request = { kind, projectId: kind === 'restore' ? null : this.projectId, settings };
    const plan = await this.server.ask<{ digest: string }>('POST', 'plans', request);
    await this.mayRefuse(Promise.resolve(plan));
    if (plan.status < 400) await this.mayRefuse(this.server.ask('POST', 'runs', { ...request, digest: plan.body.digest }));
  }

  private async pick(index: number): Promise<RunSummary | undefined> {
    const runs = (await this.server.get<Window<RunSummary>>('runs?limit=1000')).rows;
    return runs[index % Math.max(1, runs.length)];
  }

  /** The server may refuse with a word; it may not fail. */
  private async mayRefuse(answer: Promise<{ status: number; body: unknown }>): Promise<void> {
    const { status, body } = await answer;
    if (status >= 500) throw new Error(`${status} ${JSON.stringify(body)}`);
  }

  // What must hold.

  /** Waits until nothing moves; paused runs stay paused. */
  async settle(): Promise<Told[]> {
    for (let tries = 0; ; tries++) {
      const runs = (await this.server.get<Window<RunSummary>>('runs?limit=1000')).rows;
      if (runs.every((run) => run.state !== 'running' && run.state !== 'queued')) {
        const views: Told[] = [];
        for (const run of runs)
          views.push({
            ...(await this.server.get<RunView>(`runs/${run.id}`)),
            rows: (await this.server.get<Window<StepRow>>(`runs/${run.id}/steps?limit=1000`)).rows,
          });
        return views;
      }
      if (tries > 1500) throw new Error(`a run does not end: ${JSON.stringify(runs.filter((run) => run.state === 'running'))}`);
      await wait(20);
    }
  }

  /** Everything the server says against everything the disk holds. Throws with what does not fit. */
  async check(): Promise<void> {
    const runs = await this.settle();
    const wrong: string[] = [];
    for (const [name, sum] of this.originals) if (sumOf(this.path('FOUNDRY-A', name)) !== sum) wrong.push(`original ${name} was altered`);
    this.checkVault(runs, wrong);
    for (const run of runs) this.checkRun(run, wrong);
    if (this.isPlugged('VAULT')) await this.checkCrates(wrong);
    for (const shelf of SHELVES) if (this.isPlugged(shelf)) await this.stocktake(shelf);
    await this.checkClips(wrong);
    if (wrong.length > 0) throw new Error(`${wrong.join('\n')}\nafter\n${this.log.join('\n')}`);
  }

  /** Whole files only, nobody's work lost. */
  private checkVault(runs: readonly Told[], wrong: string[]): void {
    const journalled = new Set(
      runs.flatMap((run) => run.rows.flatMap(({ outcome, pending }) => [outcome, pending].flatMap((left) => [left?.sha256, ...(left?.files ?? []).map((file) => file.sha256)]))), // prettier-ignore
    );
    const busy = runs.some((run) => run.state === 'paused' || run.state === 'failed' || run.state === 'cancelled');
    for (const path of filesBelow(this.path('VAULT'))) {
      if (path.endsWith('.mill-part')) {
        if (!busy) wrong.push(`half-made ${path} was left`);
        continue;
      }
      const sum = sumOf(this.path('VAULT', path));
      if (this.mine.get(path) === sum) continue;
      const versions = this.versions.get(path.split('/').at(-1)!);
      const isWhole = versions?.has(sum) ?? false;
      const isCut = path.includes('/media/sound/');
      if (!isWhole && !journalled.has(sum) && !(versions && isCut && journalled.has(sum))) wrong.push(`${path} is not whole`);
    }
    for (const [path, sum] of this.mine) {
      const standing = this.path('VAULT', path);
      if (!existsSync(standing)) wrong.push(`${path}, the user's own, was removed`);
      else if (sumOf(standing) !== sum) wrong.push(`${path}, the user's own, was altered`);
    }
  }

  /** A run that is done has made what its receipt says; one that was undone has left nothing of it. */
  private checkRun(run: Told, wrong: string[]): void {
    if (run.state === 'done' && run.rows.some((row) => row.state !== 'done')) wrong.push(`run ${run.id} is done, its steps are not`);
    if (run.state !== 'done' || run.kind === 'undo' || run.undoneBy !== null || run.undoingBy !== null) return;
    for (const { step, outcome } of run.rows) {
      if (!outcome || !step.to || step.to.shelfId !== this.ids.VAULT) continue;
      const files = outcome.files ?? (outcome.sha256 ? [{ name: '', sha256: outcome.sha256 }] : []);
      for (const file of files) {
        const path = join(step.to.path, file.name);
        if (this.isExcused(path, run.endedAt)) continue;
        const standing = this.path('VAULT', path);
        if (!existsSync(standing)) wrong.push(`run ${run.id} is done, ${path} is not there`);
        else if (sumOf(standing) !== file.sha256) wrong.push(`run ${run.id} is done, ${path} is another`);
      }
    }
  }

  /** Whether the walk meddled with a file after a word was said of it, or so shortly before that nobody could know. */
  private isExcused(path: string, saidAt: string | null): boolean {
    const at = this.meddled.get(path);
    return at !== undefined && (saidAt === null || Date.parse(saidAt) < at + 500);
  }

  /** What is listed as a safe copy lists all it holds, and all it lists is there. */
  private async checkCrates(wrong: string[]): Promise<void> {
    for (const crate of await this.server.get<CrateRow[]>(`projects/${this.projectId}/crates`)) {
      const root = crate.place.path;
      const excused = (path: string) => this.isExcused(`${root}/${path}`, crate.madeAt);
      if (excused('bagit.txt') || excused('manifest-sha256.txt')) continue;
      if (!existsSync(this.path('VAULT', `${root}/bagit.txt`))) {
        wrong.push(`${root} is listed and is no bag`);
        continue;
      }
      const { entries } = readManifest(readFileSync(this.path('VAULT', `${root}/manifest-sha256.txt`), 'utf8'));
      const listed = new Map(entries.map((entry) => [entry.path, entry.checksum]));
      for (const path of filesBelow(this.path('VAULT', `${root}/data`)).map((name) => `data/${name}`)) {
        // What the user put among its files is no file of the crate.
        if (!listed.has(path) && !this.mine.has(`${root}/${path}`)) wrong.push(`${root}/${path} is not in the manifest`);
      }
      for (const [path, sum] of listed) {
        if (excused(path)) continue;
        const standing = this.path('VAULT', `${root}/${path}`);
        if (!existsSync(standing) || sumOf(standing) !== sum) wrong.push(`${root}/${path} does not match the manifest`);
      }
    }
  }

  /** After a stocktake "present" means: there, and with a content its source once had or a cut of it. */
  private async checkClips(wrong: string[]): Promise<void> {
    for (const project of await this.server.get<{ id: string; name: string }[]>('projects')) {
      for (const clip of (await this.server.get<Window<ClipView>>(`projects/${project.id}/clips?limit=1000`)).rows) {
        if (clip.state !== 'present' || !clip.place) continue;
        const shelf = SHELVES.find((name) => this.ids[name] === clip.place!.shelfId)!;
        const first = clip.place.path.replace(/\[(\d+)-\d+\]/, '$1');
        if (!this.isPlugged(shelf)) wrong.push(`${clip.name} of ${project.name} is present on a drive that is away`);
        else if (!existsSync(this.path(shelf, first))) wrong.push(`${clip.name} of ${project.name} is present and ${first} is not there`);
      }
    }
  }
}
