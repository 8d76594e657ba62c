/** From a stage's settings to its plan: reads the snapshot, asks the core. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { DEEPEST_JSON } from '../../core/interchange/otio/otio-text';
import { portableName } from '../../core/naming/safe-name';
import { planCrate, type CrateSettings } from '../../core/planning/crate';
import { below } from '../../core/planning/package-layout';
import { planExport, type ExportSettings } from '../../core/planning/export';
import { planUnpack, type BundleContent, type UnpackSettings } from '../../core/planning/unpack';
import { clipState } from '../../core/project/clip';
import type { Plan, Snapshot } from '../../core/planning/plan';
import { planPull, type PullSettings } from '../../core/planning/pull';
import { findOffline, planRelink, wantedByRelink, type RelinkSettings } from '../../core/planning/relink';
import { planRestore } from '../../core/planning/restore';
import type { UndoSettings } from '../../core/planning/undo';
import { joinPath, placeKey, type Place } from '../../core/media/item';
import type { Catalogue } from '../catalogue/catalogue';
import type { Mounts } from '../stock/mounts';
import { listEntries, readEntryText } from '../bundles/zip-entries';
import { readCrate } from './read-crate';
import { identityOf } from '../stock/identify';
import { lookAt, narrowedToUses, takeSnapshot } from './snapshot';
import { PlanRequestError, undoPlan } from './undo-plan';

export type PlanRequest =
  | { readonly kind: 'relink'; readonly settings: RelinkSettings }
  | { readonly kind: 'pull'; readonly settings: PullSettings }
  | { readonly kind: 'crate'; readonly settings: CrateSettings }
  | { readonly kind: 'export'; readonly settings: ExportSettings }
  | { readonly kind: 'unpack'; readonly settings: UnpackSettings }
  | { readonly kind: 'restore'; readonly settings: { readonly crate: Place; readonly projectName: string | null } }
  | { readonly kind: 'undo'; readonly settings: UndoSettings };

export { PlanRequestError };

/** The plan of a request as things stand now. `projectId` is not looked at where the kind needs none. */
export async function makePlan(catalogue: Catalogue, mounts: Mounts, projectId: string | null, request: PlanRequest): Promise<Plan> {
  if (request.kind === 'restore') return restorePlan(catalogue, mounts, request.settings);
  if (request.kind === 'undo') return undoPlan(catalogue, projectId, request.settings);
  if (request.kind === 'relink') {
    const plan = projectId ? await relinkPlan(catalogue, mounts, projectId, request.settings) : null;
    if (!plan) throw new PlanRequestError('There is no such project.');
    return plan;
  }
  const taken = projectId ? await takeSnapshot(catalogue, mounts, projectId) : null;
  if (!taken) throw new PlanRequestError('There is no such project.');
  if ('timelineIds' in request.settings) {
    const own = new Set(taken.timelines.map(({ id }) => id));
    if (!request.settings.timelineIds.every((id) => own.has(id))) throw new PlanRequestError('One of the timelines is not in this project any more.');
  }
  const snapshot = { ...taken, frames: framesOfLinked(catalogue, taken) };
  switch (request.kind) {
    case 'pull': {
      const { destination, folderName } = request.settings;
      return planPull(snapshot, request.settings, destination ? existingBelow(mounts, below(destination, folderName)) : []);
    }
    case 'export': {
      const { destination, folderName } = request.settings;
      const taken = destination ? existingBelow(mounts, below(destination, folderName.trim()), 1) : [];
      return planExport(snapshot, request.settings, { taken, addresses: shelfAddresses(catalogue, mounts) });
    }
    case 'unpack':
      return planUnpack(snapshot, request.settings, await readBundle(mounts, request.settings));
    case 'crate': {
      const { settings } = request;
      const place = settings.destination && settings.crateName.trim() !== '' ? below(settings.destination, portableName(settings.crateName)) : null;
      return planCrate(snapshot, settings, {
        crateId: crateIdOf(projectId!, settings.crateName, place),
        madeAt: new Date().toISOString().slice(0, 10),
        exists: place !== null && stands(mounts, place),
      });
    }
  }
}

/** Reads the clips that are not there, and what may be they. */
function relinkPlan(catalogue: Catalogue, mounts: Mounts, projectId: string, settings: RelinkSettings): Promise<Plan | null> {
  return lookAt(catalogue, mounts, projectId, (whole, lines) => {
    const known = lines();
    const ids = known.clips.filter((clip) => clipState(clip, known) !== 'present').map(({ id }) => id);
    const snapshot = narrowedToUses(catalogue, whole, ids);
    const offline = findOffline(snapshot);
    const attached = snapshot.shelves.filter((shelf) => shelf.attached).map((shelf) => shelf.id);
    const finder = catalogue.finder(attached, settings.scope);
    return planRelink(snapshot, settings, offline, new Map(wantedByRelink(offline).map((wanted) => [wanted.key, finder.find(wanted)])));
  });
}

/** The same plan has the same digest, so that what runs is what was read; of an undo also who was named to use the files. */
export function planDigest(plan: Plan): string {
  return createHash('sha256')
    .update(JSON.stringify([plan.kind, plan.projectId, plan.steps, ...(plan.kind === 'undo' ? [plan.findings] : [])]))
    .digest('hex');
}

function crateIdOf(projectId: string, name: string, place: Place | null): string {
  return createHash('sha256')
    .update(JSON.stringify([projectId, name, place]))
    .digest('hex')
    .slice(0, 32);
}

function stands(mounts: Mounts, place: Place): boolean {
  return mounts.rootOf(place.shelfId) !== null && existsSync(mounts.resolve(place));
}

/** Paths below `root` that are taken: the package layout is three levels deep. */
function existingBelow(mounts: Mounts, root: Place, levels = 4): string[] {
  if (!stands(mounts, root)) return [];
  const top = mounts.resolve(root);
  const visit = (path: string, depth: number): string[] =>
    readdirSync(join(top, path), { withFileTypes: true }).flatMap((entry) => {
      const own = joinPath(path, entry.name);
      return entry.isDirectory() && depth < levels - 1 ? [own, ...visit(own, depth + 1)] : [own];
    });
  return visit('', 0);
}

/** `file:` address of each attached shelf's root. */
function shelfAddresses(catalogue: Catalogue, mounts: Mounts): Map<string, string> {
  return new Map(
    catalogue.shelves.list().flatMap((shelf): [string, string][] => {
      const root = mounts.rootOf(shelf.id);
      return root === null ? [] : [[shelf.id, pathToFileURL(root).href]];
    }),
  );
}

const LARGEST_CONTENT_BYTES = 512 * 1024 * 1024;

async function readBundle(mounts: Mounts, settings: UnpackSettings): Promise<BundleContent> {
  const path = mounts.resolve(settings.bundle);
  const info = await stat(path, { bigint: true }).catch(() => null);
  if (!info?.isFile()) throw new PlanRequestError('The bundle is not there any more. Take stock of its shelf.');
  return {
    content: await readEntryText(path, 'content.otio', LARGEST_CONTENT_BYTES, DEEPEST_JSON),
    files: await listEntries(path),
    sizeBytes: Number(info.size),
    modifiedMs: Number(info.mtimeMs),
    identity: identityOf(info),
    taken: settings.destination ? existingBelow(mounts, below(settings.destination, settings.folderName.trim())) : [],
  };
}

async function restorePlan(catalogue: Catalogue, mounts: Mounts, settings: { crate: Place; projectName: string | null }): Promise<Plan> {
  const crate = await readCrate(mounts, settings.crate);
  const name = settings.projectName?.trim() || freeName(catalogue, crate.projectName);
  return planRestore(crate, freeId(catalogue, [crate.root, name, crate.entries]), name);
}

/** The project's id follows from what is opened, so that the plan read and the plan run are the same; each opening is a project of its own. */
function freeId(catalogue: Catalogue, seed: unknown): string {
  for (let number = 1; ; number++) {
    const hex = createHash('sha256')
      .update(JSON.stringify([seed, number]))
      .digest('hex');
    const id = `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20, 32)}`;
    if (!catalogue.projects.get(id)) return id;
  }
}

/** What is known of each frame of the sequences that the project links. */
function framesOfLinked(catalogue: Catalogue, snapshot: Snapshot): Map<string, readonly string[]> {
  const links = snapshot.clips.flatMap((clip) => clip.renditions.flatMap((rendition) => rendition.links));
  const linked = new Set(links.flatMap((link) => (link.place ? [placeKey(link.place)] : [])));
  const sequences = snapshot.items.filter((item) => item.facts.kind === 'sequence' && linked.has(placeKey(item.place)));
  return catalogue.items.framesOf(sequences.map((item) => item.id));
}

/** The name itself, or with where it came from when a project is called that already. */
function freeName(catalogue: Catalogue, name: string): string {
  const taken = new Set(catalogue.projects.list().map((project) => project.name));
  if (!taken.has(name)) return name;
  for (let number = 1; ; number++) {
    const other = `${name}, from a crate${number === 1 ? '' : ` ${number}`}`;
    if (!taken.has(other)) return other;
  }
}
