import { stat } from 'node:fs/promises';
import { DEEPEST_JSON } from '../../../core/interchange/otio/otio-text';
import { unpackForm, type UnpackSettings } from '../../../core/planning/unpack/settings';
import { planUnpack, type BundleContent, type UnpackDetail } from '../../../core/planning/unpack/unpack';
import { listEntries, readEntryText } from '../../bundles/zip-entries';
import type { Mounts } from '../../stock/mounts';
import { identityOf } from '../../stock/identify';
import { defineKind } from '../kind';
import { PlanRequestError } from '../../errors/problem';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';

const LARGEST_CONTENT_BYTES = 512 * 1024 * 1024;

export const unpackKind = defineKind<UnpackSettings, UnpackDetail>()({
  form: unpackForm,
  undoable: true,
  async plan(asked, settings) {
    return planUnpack(await projectSnapshot(asked), settings, await readBundle(asked.mounts, settings));
  },
});

async function readBundle(mounts: Mounts, { bundle, destination, folderName }: UnpackSettings): Promise<BundleContent> {
  const path = mounts.resolve(bundle);
  const info = await stat(path, { bigint: true }).catch(() => null);
  if (!info?.isFile()) throw new PlanRequestError('The bundle is not there any more. Look for changes on its shelf.');
  return {
    content: await readEntryText(path, 'content.otio', LARGEST_CONTENT_BYTES, DEEPEST_JSON),
    files: await listEntries(path),
    sizeBytes: Number(info.size),
    modifiedMs: Number(info.mtimeMs),
    identity: identityOf(info),
    taken: standingIn(mounts, destination, folderName.trim()),
  };
}
