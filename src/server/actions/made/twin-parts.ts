/** Where a step writes the second copy that the step after it gives its name; null where that one will meet what is in the way. */
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { below, folderOf, type Place } from '../../../core/media/item';
import { standingAt } from '../../stock/identify';
import { ensureFolder } from './folders';
import { twinPath } from '../../stock/part-name';
import type { StepContext } from '../step-context';

/** Of a file: beside its destination. */
export function twinPart(target: Place, bytes: number, context: StepContext): Promise<string | null> {
  return partOf(target, bytes, context, () => Promise.resolve(twinPath(context.places.resolve(target), context)));
}

/** Of a frame: in a hidden folder in the folder of the frames. */
export function twinFramePart(folder: Place, name: string, bytes: number, context: StepContext): Promise<string | null> {
  return partOf(below(folder, name), bytes, context, async () => {
    const parts = twinPath(context.places.resolve(below(folder, 'frame')), context);
    await mkdir(parts, { recursive: true });
    context.handed?.begun(parts);
    return join(parts, name);
  });
}

async function partOf(target: Place, bytes: number, context: StepContext, part: () => Promise<string>): Promise<string | null> {
  try {
    if (context.handed === null || standingAt(context.places.resolve(target))) return null;
    const { freeBytes } = await context.places.space(context.places.resolve({ shelfId: target.shelfId, path: '' }));
    if (freeBytes !== null && bytes > freeBytes) return null;
    await ensureFolder({ ...target, path: folderOf(target.path) }, context);
    const path = await part();
    context.handed.begun(path);
    await rm(path, { force: true });
    return path;
  } catch {
    return null;
  }
}
