import type { WriteStep, ZipEntry } from '../../../core/planning/plan/step';
import { fileName, folderOf, placeKey, samePlace, type Place } from '../../../core/media/item';
import type { StepOutcome } from '../../catalogue/step-outcome';
import type { WrittenText } from '../../files/copy.worker';
import { runCopy, runZip } from '../../files/copy-files';
import type { PackedEntry } from '../../files/zip.worker';
import { StepStopped } from '../../errors/explain-error';
import { isDerived } from '../../../core/planning/plan/step';
import { makeFile } from '../made/make-file';
import { checkPrecondition, isSameSequence } from '../made/precondition';
import type { Executor, StepContext } from '../step-context';

/** A text, given by the plan or made of what the run has done so far; or a ZIP of texts and files. */
export const writeFile: Executor<WriteStep> = (step, context) =>
  makeFile(
    step.to!,
    step.content.type === 'zip' ? step.expectedBytes : 0,
    context,
    async (part) => {
      if (step.content.type === 'zip') return packZip(step.content, part, context);
      const write = { source: null, segments: [], text: textOf(step.content, context), keepTimes: false, mustBe: null };
      const result = await runCopy({ write, target: part, control: context.control });
      if (result.stopped) throw new StepStopped();
      return { bytes: result.bytes, sha256: result.sha256, checked: 'read back' };
    },
    // What other steps left may be another thing by now.
    isDerived(step),
  );

type ZipContent = Extract<WriteStep['content'], { type: 'zip' }>;

async function packZip({ entries, sequences = [] }: ZipContent, part: string, context: StepContext): Promise<StepOutcome> {
  // Looked at once for each sequence, and only where its frames were moved or restored.
  const same = new Map<string, Promise<boolean>>();
  const restored = (folder: Place) => {
    const guarded = sequences.find((sequence) => samePlace(sequence.folder, folder));
    const key = placeKey(folder);
    if (guarded && !same.has(key)) same.set(key, isSameSequence(guarded, context.places));
    return same.get(key) ?? Promise.resolve(false);
  };
  const pack: PackedEntry[] = [];
  for (const entry of entries) {
    if ('text' in entry) {
      pack.push({ path: entry.path, ...context.catalogue.runTexts.packed(context.runId, entry.text) });
      continue;
    }
    const file = context.places.resolve(entry.from);
    pack.push({
      path: entry.path,
      file,
      mustBe: await checkPrecondition(file, entry.mustHold, fileName(entry.from.path), inSequence(entry, restored)),
    });
  }
  const result = await runZip({ pack, target: part, control: context.control });
  if (result.stopped) throw new StepStopped();
  return { bytes: result.bytes, sha256: result.sha256, checked: `${entries.length} files packed, read back` };
}

/** How a frame that looks the same is told to be the same; null for a file of its own. */
function inSequence(entry: Extract<ZipEntry, { from: Place }>, restored: (folder: Place) => Promise<boolean>): (() => Promise<boolean>) | null {
  if (entry.mustHold?.fingerprint !== undefined) return null;
  return () => restored({ ...entry.from, path: folderOf(entry.from.path) });
}

/** As it is, or as what has come of the run so far makes it. */
function textOf(content: Exclude<WriteStep['content'], ZipContent>, context: StepContext): WrittenText {
  const { catalogue, runId } = context;
  if (content.type === 'made') return { text: context.makers.text(content.what)(content.root, content.label, context), parts: [], whole: [] };
  const text = catalogue.runTexts.packed(runId, content.text);
  if (content.type === 'text') return { ...text, parts: [], whole: [] };
  return { ...text, parts: content.parts, whole: catalogue.outcomes.wholeParts(runId) };
}
