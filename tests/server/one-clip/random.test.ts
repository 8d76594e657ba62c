/**
 * Random houses: files are copied, altered in secret, renamed, lost and read whole, drives come and go, timelines name any of
 * the places. Whatever happens: two clips never share a source, a source never has two clips, nothing is offline while a
 * copy is attached, nothing is merged that only looks alike, and a timeline over other copies is the same timeline.
 */
import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { formatOtio } from '../../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../../src/core/interchange/read-timeline-file';
import { clipState } from '../../../src/core/project/clip';
import { rate } from '../../../src/core/time/rate';
import type { CompareView } from '../../../src/server/projects/views/compare';
import { Catalogue } from '../../../src/server/catalogue/catalogue';
import { bringIn } from '../../../src/server/projects/bring-in';
import { compareView } from '../../../src/server/projects/compare-view';
import { takeSnapshot } from '../../../src/server/projects/snapshot';
import { stockOf } from '../../../src/core/planning/plan/stock-view';
import type { Mounts } from '../../../src/server/stock/mounts';
import { item } from '../../helpers/snapshots';
import { cutOf, cutTimeline } from '../../helpers/trust-house';

const SHELVES = ['FOUNDRY-A', 'RAID', 'BACKUP'];
const CONTENTS = 2;

interface Place {
  readonly shelf: number;
  readonly name: number;
}

type Step =
  | { readonly do: 'put'; readonly at: Place; readonly content: number; readonly isAltered: boolean; readonly isRead: boolean }
  | { readonly do: 'read' | 'lose' | 'cut'; readonly at: Place }
  | { readonly do: 'rename'; readonly at: Place; readonly to: Place }
  | { readonly do: 'plug'; readonly shelf: number };

const place = fc.record({ shelf: fc.nat(SHELVES.length - 1), name: fc.nat(1) });
const step: fc.Arbitrary<Step> = fc.oneof(
  fc.record({
    do: fc.constant('put' as const),
    at: place,
    content: fc.nat(CONTENTS - 1),
    isAltered: fc.integer({ min: 0, max: 3 }).map((n) => n === 3),
    isRead: fc.integer({ min: 0, max: 3 }).map((n) => n > 0),
  }),
  fc.record({ do: fc.constantFrom('read' as const, 'lose' as const, 'cut' as const, 'cut' as const), at: place }),
  fc.record({ do: fc.constant('rename' as const), at: place, to: place }),
  fc.record({ do: fc.constant('plug' as const), shelf: fc.nat(SHELVES.length - 1) }),
);

class RandomHouse {
  readonly catalogue = Catalogue.open(':memory:');
  readonly attached = new Set(SHELVES);
  /** What truly stands at a place: the bytes, whatever its fingerprint says. */
  readonly truth = new Map<string, string>();
  /** The bytes that were read whole there last. */
  private readonly lastRead = new Map<string, string>();
  readonly read = { has: (key: string): boolean => this.truth.has(key) && this.lastRead.get(key) === this.truth.get(key) };
  /** What was true of a place when a timeline named it, by the timeline. */
  readonly cuts = new Map<string, string>();
  readonly mounts = {
    rootOf: (id: string) => (this.attached.has(id) ? `/media/${id}` : null),
    volumeOf: (id: string) => (this.attached.has(id) ? id : null),
    driveOf: (id: string) => (this.attached.has(id) ? id : null),
    space: () => Promise.resolve({ writable: true, capacityBytes: 1e12, freeBytes: 1e12 }),
  } as unknown as Mounts;

  constructor() {
    for (const name of SHELVES) this.catalogue.shelves.put(name, name, '2026-01-01');
    this.catalogue.projects.add({ id: 'p', name: 'Bronze Hour', rate: rate(25), dropFrame: false, createdAt: '2026-01-01' });
  }

  private key({ shelf, name }: Place): string {
    return `${SHELVES[shelf]!} take ${name}.wav`;
  }

  private at({ shelf, name }: Place) {
    return { shelfId: SHELVES[shelf]!, path: `take ${name}.wav` };
  }

  run(step: Step): void {
    if (step.do === 'plug') {
      const id = SHELVES[step.shelf]!;
      if (!this.attached.delete(id)) this.attached.add(id);
      return;
    }
    // Nothing happens on a drive that is away, but lists may name it.
    if (step.do !== 'cut' && !this.attached.has(SHELVES[step.at.shelf]!)) return;
    if (step.do === 'put') this.put(step.at, `${step.content}${step.isAltered ? ' altered' : ''}`, step.isRead);
    else if (step.do === 'read') this.readWhole(step.at);
    else if (step.do === 'lose') this.lose(step.at);
    else if (step.do === 'rename') this.rename(step.at, step.to);
    else this.cut(step.at);
  }

  /** Altered ones have the fingerprint of what they were altered from: the samples miss what differs. */
  private put(at: Place, bytes: string, isRead: boolean): void {
    const print = `2:${bytes[0]!.repeat(64)}:14/14`;
    const identity = { device: '1', inode: `${Math.random()}`, sizeBytes: 1e6, modifiedNs: `${1e9 + bytes.length}`, changedNs: '1' };
    this.catalogue.items.put({ ...item('x.wav', { kind: 'audio', durationFrames: 48_000, rate: rate(48_000) }), id: randomUUID(), place: this.at(at), sizeBytes: 1e6, fingerprint: print, identity } as never); // prettier-ignore
    this.truth.set(this.key(at), bytes);
    if (isRead) this.readWhole(at);
  }

  private readWhole(at: Place): void {
    const bytes = this.truth.get(this.key(at));
    const known = this.catalogue.items.at(this.at(at));
    if (bytes === undefined || !known?.identity) return;
    this.catalogue.items.recordChecksum(known.place, known.identity, bytes.padEnd(64, '.'), '2026-01-02');
    this.lastRead.set(this.key(at), bytes);
    this.join();
  }

  private lose(at: Place): void {
    this.catalogue.items.markRemoved(this.at(at), '2026-01-03');
    this.truth.delete(this.key(at));
  }

  private rename(at: Place, to: Place): void {
    const bytes = this.truth.get(this.key(at));
    if (bytes === undefined || this.truth.has(this.key(to)) || !this.attached.has(SHELVES[to.shelf]!)) return;
    const wasRead = this.read.has(this.key(at));
    this.lose(at);
    this.put(to, bytes, wasRead);
  }

  cut(at: Place): string | null {
    const bytes = this.truth.get(this.key(at));
    if (bytes === undefined) return null;
    const { shelfId, path } = this.at(at);
    const text = formatOtio(cutTimeline(`Cut ${this.cuts.size}`, [cutOf(path, 5, 10), cutOf(path, 30, 5)], 'Audio')).replaceAll(
      '/Volumes/FOUNDRY-A/',
      `/Volumes/${shelfId}/`,
    );
    const [id] = bringIn(this.catalogue, this.mounts, 'p', readTimelineFile(text, rate(25)), 'cut', null, randomUUID).timelineIds;
    this.cuts.set(id!, `${this.read.has(this.key(at)) ? 'read' : 'seen'} ${bytes}`);
    return id!;
  }

  /** What becomes known later makes clips one by a sheet. */
  private join(): void {
    for (const { clipIds } of this.catalogue.joins.oneSource('p')) {
      const [keep, ...others] = this.catalogue.clips.ofProject('p', clipIds);
      this.catalogue.transaction(() => this.catalogue.joins.join('p', keep!.id, others.map(({ id }) => id), null)); // prettier-ignore
    }
  }

  compare(snapshot: Parameters<typeof compareView>[0], before: string, after: string): CompareView['counts'] {
    return compareView(snapshot, before, after)!.counts;
  }
}

let compared = 0;
let substituted = 0;

async function mustHold(house: RandomHouse): Promise<void> {
  const { catalogue, attached, truth, read, cuts } = house;
  const snapshot = (await takeSnapshot(catalogue, house.mounts, 'p'))!;
  const stock = stockOf(snapshot);
  const clipsBySource = new Map<string, string>();
  for (const clip of snapshot.clips) {
    const [link] = clip.renditions[0]!.links;
    const [file] = catalogue.sources.filesOf(clip.id).filter(({ of }) => of === 'source');
    // What stands under the linked name may be another file by now: that is not its source.
    const content = file && !file.isGone ? catalogue.items.copiesOf(file)[0]?.content : undefined;
    if (content !== undefined) {
      expect(clipsBySource.get(content) ?? clip.id, 'two clips of one source').toBe(clip.id);
      clipsBySource.set(content, clip.id);
    }
    if (link!.linkedAt) {
      substituted++;
      // Only what was read whole on both sides stands for another, and only where it is the same in truth.
      const key = `${link!.place!.shelfId} ${link!.place!.path}`;
      expect(read.has(key), 'a file that nobody read stands for another').toBe(true);
    }
    // No clip is offline while a copy of what it links is attached, unless another file stands under its name.
    const state = clipState(clip, stock);
    const linked = catalogue.sources.filesOf(clip.id).find(({ isLinked, of }) => isLinked && of === 'source');
    const there = content === undefined ? [] : catalogue.items.copiesOf(linked!).filter(({ place }) => attached.has(place.shelfId));
    if (there.length > 0 && !linked!.isGone) expect(state, 'offline beside an attached copy').not.toMatch(/missing|unplugged/);
  }
  // Every event reads, in truth, the bytes that its timeline named, as far as those are still the same at the place.
  const ids = [...cuts.keys()].filter((id) => catalogue.timelines.isOf('p', id));
  const bySource = new Map<string, string[]>();
  for (const id of ids) {
    const clipId = catalogue.timelines.eventClips(id).clipIds[0]!;
    const clip = snapshot.clips.find((own) => own.id === clipId)!;
    const [link] = clip.renditions[0]!.links;
    const [how, ...bytes] = cuts.get(id)!.split(' ');
    if (link!.linkedAt && how === 'read')
      expect(truth.get(`${link!.place!.shelfId} ${link!.place!.path}`), 'other bytes are read').toBe(bytes.join(' '));
    bySource.set(clipId, [...(bySource.get(clipId) ?? []), id]);
  }
  for (const list of bySource.values())
    for (const other of list.slice(1, 3)) {
      compared++;
      expect(house.compare(snapshot, list[0]!, other)).toMatchObject({ same: 2, added: 0, removed: 0, exchanged: 0, trimmed: 0 });
    }
}

it('holds in random houses', { timeout: 120_000 }, async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 15, maxLength: 40 }), async (steps) => {
      const house = new RandomHouse();
      for (const one of steps) {
        house.run(one);
        await mustHold(house);
      }
      house.catalogue.close();
    }),
    { numRuns: 60 },
  );
  // There was something to hold, whatever the dice say.
  expect([compared > 5, substituted > 5]).toEqual([true, true]);
});
