/** A house of its own for a test: two shelves below a temporary folder, real files made by ffmpeg. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { OtioObject } from '../../src/core/interchange/otio/otio-types';
import { formatOtio } from '../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { rate } from '../../src/core/time/rate';
import type { ClipView } from '../../src/server/projects/views/clip';
import type { ClipQuery } from '../../src/server/projects/clip-views';
import type { UsageRequest } from '../../src/server/projects/usage-views';
import { log } from '../../src/server/log/log';
import { configBelow } from '../../src/server/config';
import { House } from '../../src/server/house';
import { complaint, runTool } from '../../src/server/media/ffmpeg';
import { bringIn } from '../../src/server/projects/bring-in';
import type { PlanRequest } from '../../src/server/kinds/kinds';
import { makePlan } from '../../src/server/kinds/make-plan';
import { registerShelf } from '../../src/server/stock/register-shelf';
import type { Stocktaking } from '../../src/server/stock/stocktake';
import { stockNow } from './take-stock';
import { Study } from '../../src/server/questions/study';

export interface SmallHouse {
  readonly house: House;
  readonly folder: string;
  /** Absolute folders and ids of the shelves FOUNDRY-A (media) and VAULT (destination). */
  readonly source: { readonly id: string; readonly root: string };
  readonly vault: { readonly id: string; readonly root: string };
  readonly projectId: string;
  /** Brings in a timeline; gives its id. */
  bring(document: OtioObject): string;
  stocktake(shelfId: string): Promise<Stocktaking>;
  plan(request: PlanRequest): ReturnType<typeof makePlan>;
  remove(): Promise<void>;
}

export function openHouse(folder: string): House {
  log.level = 'silent';
  return new House(configBelow(folder, 'silent'));
}

export function makeHouse(): SmallHouse {
  const folder = mkdtempSync(join(tmpdir(), 'mill-test-'));
  const house = openHouse(folder);
  const shelf = (name: string) => {
    const root = join(folder, name);
    mkdirSync(root);
    return { root, id: registerShelf(house.catalogue, house.mounts, root).id };
  };
  const [source, vault] = [shelf('FOUNDRY-A'), shelf('VAULT')];
  const projectId = randomUUID();
  house.catalogue.projects.add({ id: projectId, name: 'Test', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
  return {
    house,
    folder,
    source,
    vault,
    projectId,
    bring: (document) =>
      bringIn(house.catalogue, house.mounts, projectId, readTimelineFile(formatOtio(document), rate(25)), 'test.otio', null, randomUUID)
        .timelineIds[0]!,
    stocktake: (shelfId) => stockNow(house, shelfId),
    plan: (request) => makePlan(house.catalogue, house.mounts, projectId, request),
    remove: async () => {
      await house.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

export async function ffmpeg(...args: string[]): Promise<void> {
  const result = await runTool('ffmpeg', args);
  if (result.exitCode !== 0) throw new Error(complaint(result.stderr));
}

/** An intra-frame MOV of noise-like frames with sound, start timecode and reel. `r` as ffmpeg writes rates. */
export function makeIntra(
  path: string,
  frames: number,
  timecode: string,
  r = '25',
  codec: readonly string[] = ['-c:v', 'prores', '-pix_fmt', 'yuv422p10le'],
): Promise<void> {
  const container = path.endsWith('.mxf') ? ['-metadata', 'reel_name=A001', '-f', 'mxf'] : ['-metadata:s:v:0', 'reel_name=A001'];
  const [num = 25, den = 1] = r.split('/').map(Number);
  // The MXF writer holds back pictures that have no sound beside them.
  const seconds = (frames * den) / num + (path.endsWith('.mxf') ? 1 : 0);
  const sound = path.endsWith('.mxf') ? 'pcm_s16le' : 'pcm_s24le';
  return ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=256x144:r=${r}:d=${(frames * den) / num}`,
    '-f',
    'lavfi',
    '-i',
    `anoisesrc=r=48000:a=0.3:seed=5:d=${seconds}`,
    '-map',
    '0:v',
    '-map',
    '1:a',
    ...codec,
    '-c:a',
    sound,
    '-timecode',
    timecode,
    ...container,
    '-y',
    `file:${path}`,
  );
}

/** What a page would be told. */
export async function seen<T>({ house, projectId }: SmallHouse, ask: 'overview' | 'bins' | 'timelines' | 'head' | 'crates'): Promise<T> {
  return (await new Study(house.catalogue, house.mounts).answer({ ask, projectId })) as T;
}

export const ALL_CLIPS: ClipQuery = { filter: '', sort: 'name', down: false, limit: 1000, offset: 0, bin: '', state: '', ids: null };

/** Usage of all that the project has, as a page asks for it. */
export const ALL_USAGE: UsageRequest = { timelineIds: 'all', bins: [], clipIds: [], countDisabled: true, filter: '', sort: 'name', down: false, limit: 1000, offset: 0 }; // prettier-ignore

export async function clipsSeen({ house, projectId }: SmallHouse): Promise<readonly ClipView[]> {
  const answer = await new Study(house.catalogue, house.mounts).answer({ ask: 'clips', projectId, query: ALL_CLIPS });
  return answer.rows;
}
