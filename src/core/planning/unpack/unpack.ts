/** Unpack: the media of an OTIO bundle goes onto a shelf, its timeline into the project. */
import { foldPath } from '../../naming/fold-path';
import type { FileIdentity } from '../../media/identity';
import { below, fileName } from '../../media/item';
import { warns, type Finding } from '../../words/finding';
import { blockedBy, destinationProblem, hiddenName, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { Plan } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import type { AdoptChange } from '../package/adopt';
import { linkStep, type Step } from '../plan/step';
import type { UnpackSettings } from './settings';
import { plural, oneOrMany } from '../../words/figures';

/** What the server read of the bundle. */
export interface BundleContent {
  /** Text of content.otio; null when there is none. */
  readonly content: string | null;
  readonly files: readonly { readonly path: string; readonly bytes: number }[];
  readonly sizeBytes: number;
  readonly modifiedMs: number;
  readonly identity: FileIdentity;
  /** Paths below the folder that exist. */
  readonly taken: readonly string[];
}

export interface UnpackDetail {
  readonly files: readonly { readonly path: string; readonly bytes: number }[];
}

export function planUnpack(snapshot: Snapshot, settings: UnpackSettings, bundle: BundleContent): Plan<UnpackDetail> {
  const root = below(settings.destination ?? { shelfId: '', path: '' }, settings.folderName.trim());
  const media = bundle.files.filter((file) => file.path.startsWith('media/') && !file.path.endsWith('/'));
  const unsafe = media.filter((file) => !isSafe(file.path));
  const taken = new Set(bundle.taken.map(foldPath));
  const clash = media.filter((file) => isSafe(file.path) && !claims(taken, file.path));
  const steps: Step[] = media.map((file) => ({
    action: 'copy',
    phase: 0,
    from: settings.bundle,
    entry: file.path,
    to: below(root, file.path),
    expectedBytes: file.bytes,
    bytesExact: true,
    reason: 'media of the bundle',
    mustHold: { sizeBytes: bundle.sizeBytes, modifiedMs: bundle.modifiedMs, identity: bundle.identity },
  }));
  if (bundle.content !== null) {
    const name = fileName(settings.bundle.path);
    steps.push(
      linkStep<AdoptChange>(1, 'the timeline comes into this project', {
        type: 'adopt',
        base: root,
        timelines: [{ name, text: bundle.content, folder: '' }],
      }),
    );
  }
  const bytes = media.reduce((sum, file) => sum + file.bytes, 0);
  const problem: Blocking | null =
    findProblem(bundle, settings, unsafe, clash) ?? hiddenProblem(root.path) ?? destinationProblem(snapshot.shelves, root.shelfId, bytes, '');
  const hidden = media.filter((file) => hiddenName(file.path) !== null);
  const others = bundle.files.filter(
    (file) => !file.path.startsWith('media/') && !/^(content\.otio|version\.txt)$/.test(file.path) && !file.path.endsWith('/'),
  );
  const findings: Finding[] = [
    ...blockedBy(problem),
    ...(hidden[0]
      ? [
          warns(
            'bundle-hidden',
            `${hidden.length} of its files ${oneOrMany(hidden.length, 'has a hidden name', 'have hidden names')}: stocktakes pass over them, so their clips count as missing.`,
            'Rename them once they are unpacked, then relink.',
            hidden[0].path,
          ),
        ]
      : []),
    ...(others.length > 0
      ? [
          warns(
            'bundle-extra',
            `${plural(others.length, 'file')} beside the timeline and media/ ${oneOrMany(others.length, 'is', 'are')} left in the bundle.`,
            'Take them out by hand, if you need them: a bundle is a ZIP file.',
            others[0]!.path,
          ),
        ]
      : []),
  ];
  return {
    kind: 'unpack',
    title: `Unpack ${fileName(settings.bundle.path)}`,
    projectId: snapshot.project.id,
    headline: { value: bytes, of: bundle.sizeBytes, unit: 'bytes', words: 'of media' },
    lines: [
      { label: 'Media', files: media.length, bytes },
      { label: 'Timeline', text: bundle.content === null ? 'none' : 'comes into this project' },
      { label: 'Checks', text: 'against the bundle’s checksums, then read back' },
      { label: 'The bundle', text: 'stays as it is' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings,
    steps: problem ? [] : steps,
    blocked: problem?.message ?? null,
    detail: { files: media },
  };
}

/** A name inside a bundle is hostile: it must not lead out of the folder. */
function isSafe(path: string): boolean {
  return path.split('/').every((part) => part !== '' && part !== '.' && part !== '..') && !/[\\\u0000-\u001f]|^[A-Za-z]:/.test(path);
}

function claims(taken: Set<string>, path: string): boolean {
  const free = !taken.has(foldPath(path));
  taken.add(foldPath(path));
  return free;
}

function findProblem(
  bundle: BundleContent,
  settings: UnpackSettings,
  unsafe: readonly { path: string }[],
  clash: readonly { path: string }[],
): Blocking | null {
  if (bundle.content === null)
    return { code: 'no-content', message: 'There is no content.otio in this file: it is no OTIO bundle.', hint: 'Choose an .otioz file.' };
  if (unsafe[0])
    return {
      code: 'bundle-unsafe',
      message: `The bundle names "${unsafe[0].path}", which would lead out of the folder.`,
      hint: 'Have it made again.',
    };
  if (settings.folderName.trim() === '') return { code: 'no-folder-name', message: 'The new folder has no name.', hint: 'Type a name for it.' };
  if (clash[0])
    return {
      code: 'unpack-exists',
      message: `"${clash[0].path}" stands there already, or twice in the bundle.`,
      hint: 'Choose another folder: nothing is ever overwritten.',
    };
  return null;
}
