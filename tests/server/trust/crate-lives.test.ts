/** Random lives of a crate: whatever becomes of it, nothing is called safe that the disks do not bear out at that moment. */
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  copyFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import { readManifest } from '../../../src/core/archive/bagit/bag';
import type { CrateView } from '../../../src/server/projects/views/crate';
import type { OverviewView } from '../../../src/server/projects/views/project';
import { makeHouse, seen, type SmallHouse } from '../../helpers/small-house';
import { cutOf, cutTimeline, go, pullSettings, wavBytes } from '../../helpers/trust-house';

const FILES = ['data/media/sound/long.wav', 'data/media/sound/one.wav', 'data/timelines/Bells.otio', 'manifest-sha256.txt', 'bagit.txt', 'bag-info.txt'] as const; // prettier-ignore
const OPS = ['alter', 'touch', 'remove', 'put back', 'move', 'copy', 'remove all', 'check', 'undo', 'forget copies'] as const;
type Op = { readonly do: (typeof OPS)[number]; readonly file: number };

class Life {
  private place = 'Sealed';
  private readonly spare: string;
  private sums = new Map<string, string>();

  private constructor(
    readonly small: SmallHouse,
    readonly runId: number,
  ) {
    this.spare = join(small.folder, 'spare');
    cpSync(this.at(''), this.spare, { recursive: true });
    for (const list of ['manifest-sha256.txt', 'tagmanifest-sha256.txt'])
      for (const { path, checksum } of readManifest(readFileSync(join(this.spare, list), 'utf8')).entries) this.sums.set(path, checksum);
  }

  static async begin(): Promise<Life> {
    const small = makeHouse();
    writeFileSync(join(small.source.root, 'long.wav'), wavBytes(200_000));
    writeFileSync(join(small.source.root, 'one.wav'), wavBytes(9600, [], 1));
    await small.stocktake(small.source.id);
    const timelineId = small.bring(cutTimeline('Bells', ['long.wav', 'one.wav'].map((name) => cutOf(name, 0, 5)), 'Audio')); // prettier-ignore
    const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
    const settings: CrateSettings = { ...shared, crateName: 'Sealed', note: '' };
    return new Life(small, (await go(small, await small.plan({ kind: 'crate', settings }))).id);
  }

  private at(path: string): string {
    return join(this.small.vault.root, this.place, path);
  }

  async live({ do: what, file }: Op, step: number): Promise<void> {
    const path = this.at(FILES[file]!);
    const there = existsSync(path);
    if (what === 'alter' && there) appendFileSync(path, 'x');
    if (what === 'touch' && there) utimesSync(path, new Date(), new Date(Date.UTC(2026, 0, 1, 0, 0, step)));
    if (what === 'remove') rmSync(path, { force: true });
    if (what === 'put back' && existsSync(this.at('data'))) {
      mkdirSync(join(path, '..'), { recursive: true });
      copyFileSync(join(this.spare, FILES[file]!), path);
    }
    if (what === 'move' && existsSync(this.at(''))) {
      const to = `Moved ${step}`;
      renameSync(this.at(''), join(this.small.vault.root, to));
      this.place = to;
    }
    if (what === 'copy' && existsSync(this.at(''))) cpSync(this.at(''), join(this.small.vault.root, `Copy ${step}`), { recursive: true });
    if (what === 'remove all') rmSync(this.at(''), { recursive: true, force: true });
    if (what === 'forget copies')
      for (let number = 0; number < step; number++) rmSync(join(this.small.vault.root, `Copy ${number}`), { recursive: true, force: true });
    const [crate] = await seen<CrateView[]>(this.small, 'crates');
    if (what === 'check' && crate && crate.standing.state !== 'gone') {
      const plan = await this.small.plan({ kind: 'check-crate', settings: { crateId: crate.id } }).catch(() => null);
      if (plan && plan.blocked === null) await go(this.small, plan);
    }
    if (what === 'undo' && crate) {
      const plan = await this.small.plan({ kind: 'undo', settings: { runId: this.runId, confirmed: true } }).catch(() => null);
      if (plan && plan.blocked === null) await go(this.small, plan);
    }
    await this.small.stocktake(this.small.vault.id);
  }

  /** What is wrong with the folder by its bytes: the files of both lists, and that it is a bag. */
  private isWhole(folder: string): boolean {
    const root = join(this.small.vault.root, folder);
    return [...this.sums].every(([path, sum]) => {
      const file = join(root, path);
      return statSync(file, { throwIfNoEntry: false })?.isFile() === true && createHash('sha256').update(readFileSync(file)).digest('hex') === sum;
    });
  }

  async look(): Promise<void> {
    const [crate] = await seen<CrateView[]>(this.small, 'crates');
    const { lastCrate, advice } = await seen<OverviewView>(this.small, 'overview');
    expect(lastCrate?.isSafe ?? false).toBe(crate?.isSafe ?? false);
    if (!crate) return;
    const { state, place, copies, missing, other } = crate.standing;
    if (crate.isSafe) expect(this.isWhole(place.path)).toBe(true);
    else expect(advice.some(({ stage }) => stage === 'crates')).toBe(true);
    if (state === 'gone') expect(existsSync(join(this.small.vault.root, place.path, 'bagit.txt'))).toBe(false);
    else expect(existsSync(join(this.small.vault.root, place.path))).toBe(true);
    if (state === 'unread') expect([missing, other]).toEqual([0, 0]);
    for (const copy of copies) expect(existsSync(join(this.small.vault.root, copy.path, 'tagmanifest-sha256.txt'))).toBe(true);
  }
}

it('whatever happens to it', async () => {
  const op = fc.record({ do: fc.constantFrom(...OPS), file: fc.nat(FILES.length - 1) });
  await fc.assert(
    fc.asyncProperty(fc.array(op, { minLength: 3, maxLength: 7 }), async (ops) => {
      const life = await Life.begin();
      try {
        await life.look();
        for (const [step, one] of ops.entries()) {
          await life.live(one, step);
          await life.look();
        }
      } finally {
        await life.small.remove();
      }
    }),
    { numRuns: 4, endOnFailure: true },
  );
}, 120_000);
