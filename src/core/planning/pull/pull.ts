/** Pull: only the used parts of the media, with handles, and timelines that point at them. */
import { below, placeKey, type Place } from '../../media/item';
import type { AdoptChange } from '../package/adopt';
import { layMedia, packageTimelines } from '../package/package-layout';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { Plan, PlanLine } from '../plan/plan';
import { asItIs, type TextKeeper } from '../plan/plan-text';
import type { Snapshot } from '../plan/snapshot';
import { linkStep, type Step } from '../plan/step';
import { lessRoom } from '../taking/settings';
import { PULLED } from '../taking/other-timelines';
import { mediaFindings, nothingToTake, takenDetail, takenLines, type TakenDetail } from '../taking/taken';
import { findUsedMedia, type UsedMedia } from '../taking/used-media';
import type { PullSettings } from './settings';

export function planPull(
  snapshot: Snapshot,
  settings: PullSettings,
  standing: Iterable<string> = [],
  keepText: TextKeeper = asItIs,
): Plan<TakenDetail> {
  const taken = [...standing];
  const media = findUsedMedia(snapshot, settings);
  const root: Place = {
    shelfId: settings.destination?.shelfId ?? '',
    path: below(settings.destination ?? { shelfId: '', path: '' }, settings.folderName).path,
  };
  const layout = layMedia(media, root, 0, snapshot.frames, taken);
  const timelines = packageTimelines(snapshot, settings.timelineIds, media, layout, (name) => `${name}${PULLED}`, keepText, taken);
  const writes: Step[] = timelines.map((timeline) => ({
    action: 'write',
    phase: 1,
    from: null,
    to: below(root, timeline.path),
    expectedBytes: timeline.bytes,
    bytesExact: true,
    reason: 'the timeline, linked to the pulled media',
    mustHold: null,
    content: { type: 'timeline', text: timeline.text, parts: timeline.parts },
  }));
  const adopt = linkStep<AdoptChange>(2, 'the new timelines come into this project', {
    type: 'adopt',
    base: root,
    timelines: timelines.map(({ name, text, parts }) => ({ name, text, parts, folder: 'timelines' })),
  });
  const steps = [...layout.steps, ...writes, ...(timelines.length > 0 ? [adopt] : [])];
  const keepsBytes = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
  const ofBytes = media.items.reduce((sum, used) => sum + used.item.sizeBytes, 0);
  const problem =
    media.items.length === 0
      ? nothingToTake(settings.timelineIds)
      : settings.folderName.trim() === ''
        ? noFolderName()
        : (hiddenProblem(root.path) ?? destinationProblem(snapshot.shelves, root.shelfId, keepsBytes, lessRoom(settings)));
  const findings = [...blockedBy(problem), ...mediaFindings(snapshot, settings, media, ofBytes, keepsBytes)];
  return {
    kind: 'pull',
    title: settings.media === 'parts' ? 'Pull the used parts' : 'Pull the used files',
    projectId: snapshot.project.id,
    headline: { value: keepsBytes, of: ofBytes, unit: 'bytes', words: 'in use' },
    lines: [
      ...takenLines(media, layout),
      ...leftOutLine(snapshot, media),
      { label: 'New timelines', text: timelines.map((timeline) => timeline.name).join(', ') || 'none' },
      { label: 'Checks after the run', text: 'every file read back; cuts frame by frame' },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings,
    steps: problem ? [] : steps,
    blocked: problem?.message ?? null,
    detail: takenDetail(media, layout),
  };
}

function noFolderName(): Blocking {
  return { code: 'no-folder-name', message: 'The new folder has no name.', hint: 'Type a name for it.' };
}

function leftOutLine(snapshot: Snapshot, media: UsedMedia): PlanLine[] {
  const used = new Set(media.items.map((entry) => entry.item.id));
  const linked = new Set(
    snapshot.clips.flatMap((clip) => clip.renditions.flatMap((rendition) => rendition.links.map((link) => (link.place ? placeKey(link.place) : '')))),
  );
  const unused = snapshot.items.filter((item) => !used.has(item.id) && linked.has(placeKey(item.place)));
  return unused.length === 0
    ? []
    : [{ label: 'Left out, unused', files: unused.length, bytes: unused.reduce((sum, item) => sum + item.sizeBytes, 0) }];
}
