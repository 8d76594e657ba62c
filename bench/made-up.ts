/** What the benches make up: a house in a folder, and items as a stocktake would have read them, without files. */
import { randomUUID } from 'node:crypto';
import type { Item } from '../src/core/media/item';
import { rate } from '../src/core/time/rate';
import { configBelow, type Config } from '../src/server/config';

const PAL = rate(25);

export function itemAt(shelfId: string, index: number): Item {
  const path = `Day ${index % 40}/A${String(Math.floor(index / 500) % 200).padStart(3, '0')}_C${String(index).padStart(6, '0')}.mov`;
  return {
    id: randomUUID(),
    place: { shelfId, path },
    sizeBytes: 1_000_000 + index,
    modifiedMs: index,
    identity: { sizeBytes: 1_000_000 + index, modifiedNs: String(index), changedNs: '1', inode: String(index), bornNs: '1' },
    fingerprint: `2:${randomUUID()}:14/14`,
    facts: {
      kind: 'video', container: 'mov', rate: PAL, durationFrames: 1000, startFrame: 90_000 + (index % 500) * 1000, startTimecode: null, dropFrame: false, reel: `A${Math.floor(index / 500) % 200}`,
      video: { codec: 'prores', profile: null, width: 1920, height: 1080, pixelFormat: 'yuv422p10le', bitDepth: 10, alpha: false, colorTransfer: null, colorPrimaries: null },
      audio: [], sequence: null,
    },
    problem: null,
  }; // prettier-ignore
}

export function configOf(folder: string): Config {
  return configBelow(folder, 'warn');
}
