/** Crate: one verified folder with media, timelines, manifest and report, laid out as a bag of RFC 8493. */
import { CRATE_FORMAT } from '../../archive/archive-formats';
import { below, folderOf, type Place } from '../../media/item';
import { subtract, totalFrames, type RangeSet } from '../../time/range';
import { fewNames, formatCount, plural, oneOrMany } from '../../words/figures';
import { notes, type Finding } from '../../words/finding';
import { layMedia, packageTimelines, type PackagedTimeline } from '../package/package-layout';
import { lessRoom } from '../taking/settings';
import { mediaFindings, nothingToTake, takenDetail, takenLines, type TakenDetail } from '../taking/taken';
import { blockedBy, destinationProblem, hiddenProblem, shelfFills, type Blocking } from '../plan/destination';
import type { CrateAbout } from './crate-about';
import type { CrateHolds } from './crate-words';
import type { CrateCarries, CrateLabel, EnterCopies, LackingClip, RecordCrate } from './crate-label';
import type { CrateSettings } from './settings';
import { linkStep, type Step } from '../plan/step';
import type { Plan } from '../plan/plan';
import { asItIs, type TextKeeper } from '../plan/plan-text';
import type { Snapshot } from '../plan/snapshot';
import { portableName } from '../../naming/safe-name';
import { sourceRendition, type Clip, type LinkState } from '../../project/clip';
import { stockOf, type StockView } from '../plan/stock-view';
import { findUsedMedia, type UsedMedia } from '../taking/used-media';

export interface CrateContext {
  readonly crateId: string;
  /** ISO 8601 date, for bag-info and the report. */
  readonly madeAt: string;
  /** Whether something already stands where the crate would. */
  readonly exists: boolean;
  /** Name of the crate of this project that was made before; absent where there is none. */
  readonly follows?: string;
  /** By content: frames that were decoded without a fault; absent where nobody asked. */
  readonly decoded?: ReadonlyMap<string, RangeSet>;
  readonly keepText?: TextKeeper;
}

/** Room for manifest and report: about 400 bytes a file and some for the texts around. */
const BYTES_A_FILE_LISTED = 600;
const BYTES_AROUND = 4_000;

export function planCrate(snapshot: Snapshot, settings: CrateSettings, context: CrateContext): Plan<TakenDetail> {
  const media = findUsedMedia(snapshot, settings);
  const folder = settings.crateName.trim() === '' ? '' : portableName(settings.crateName);
  const root = below(settings.destination ?? { shelfId: '', path: '' }, folder);
  const payload = below(root, CRATE_FORMAT.payloadFolder);
  const layout = layMedia(media, payload, 0, snapshot.frames);
  const timelines = packageTimelines(
    snapshot,
    settings.timelineIds,
    media,
    layout,
    (name) => name,
    context.keepText ?? asItIs,
    [],
    settings.keepPaths !== true,
  );
  const about: CrateAbout = { ...settings.about, ...(context.follows ? { follows: context.follows } : {}) };
  const label: CrateLabel = {
    crateName: settings.crateName.trim(),
    projectName: snapshot.project.name,
    rate: snapshot.project.rate,
    dropFrame: snapshot.project.dropFrame,
    madeAt: context.madeAt,
    timelineNames: timelines.map((timeline) => timeline.name),
    note: settings.note,
    decoded: decodedOf(media, context.decoded),
    about,
    ...(settings.keepPaths ? { keepPaths: true as const } : {}),
    lacks: media.offline.map(({ clip, state, events }) => ({ name: clip.name, state, events, ...damageWords(clip, stockOf(snapshot)) })),
  };
  const listed = layout.steps.reduce(
    (sum, step) => sum + (step.action === 'frames' ? step.names.length : 1),
    timelines.length + media.offline.length,
  );
  const made = (phase: number, what: string, path: string, reason: string, listsFiles: boolean): Step => ({
    action: 'write',
    phase,
    from: null,
    to: below(root, path),
    expectedBytes: listsFiles ? listed * BYTES_A_FILE_LISTED + BYTES_AROUND : 500,
    bytesExact: false,
    reason,
    mustHold: null,
    content: { type: 'made', what, root: root.path, label },
  });
  const steps: Step[] = [
    ...layout.steps,
    ...timelines.map((timeline): Step => ({
      action: 'write',
      phase: 1,
      from: null,
      to: below(payload, timeline.path),
      expectedBytes: timeline.bytes,
      bytesExact: true,
      reason: 'the timeline, with links that stay inside the crate',
      mustHold: null,
      content: { type: 'timeline', text: timeline.text, parts: timeline.parts },
    })),
    made(2, 'crate-report', `${CRATE_FORMAT.payloadFolder}/report.html`, 'what is in it, to read', true),
    ...CRATE_FORMAT.lists.map(({ what, path, phase, reason, listsFiles }) => made(3 + phase, what, path, reason, listsFiles)),
    linkStep<EnterCopies>(6, 'what was copied whole is known as a copy', { type: 'enter-copies' }),
    linkStep<RecordCrate>(7, 'the crate is entered in this project', {
      type: 'record-crate',
      crateId: context.crateId,
      name: label.crateName,
      root,
      holds: holdsOf(media),
      about,
      carries: carriedOf(snapshot, settings.timelineIds, media),
    }),
  ];
  const bytes = steps.reduce((sum, step) => sum + step.expectedBytes, 0);
  const ofBytes = media.items.reduce((sum, used) => sum + used.item.sizeBytes, 0);
  const problem = findProblem(snapshot, settings, media.items.length, folder, root, bytes, context);
  return {
    kind: 'crate',
    title: `Make the crate ${settings.crateName.trim()}`,
    projectId: snapshot.project.id,
    headline: { value: bytes, of: ofBytes, unit: 'bytes', words: 'in use' },
    lines: [
      ...takenLines(media, layout),
      { label: 'Timelines', text: label.timelineNames.join(', ') || 'none' },
      { label: 'Decoded before', text: `${formatCount(label.decoded?.sources ?? 0)} of ${plural(media.items.length, 'source')}` },
      { label: 'Form', text: CRATE_FORMAT.title },
      { label: 'Checks', text: 'every file read back' },
      { label: 'Originals', text: 'untouched' },
    ],
    fills: shelfFills(steps, snapshot.shelves),
    findings: [
      ...blockedBy(problem),
      ...mediaFindings(snapshot, settings, media, ofBytes, bytes, settings.keepPaths ? undefined : 'the file name'),
      ...handedOnFindings(timelines, media),
    ],
    steps: problem ? [] : steps,
    blocked: problem?.message ?? null,
    detail: takenDetail(media, layout),
  };
}

/** What is known to be wrong with the files of its source. */
function damageWords(clip: Clip, stock: StockView): Pick<LackingClip, 'damage'> {
  const words = (sourceRendition(clip)?.links ?? []).flatMap(({ place }) => (place && stock.itemAt(place)?.damage) || []);
  return words.length === 0 ? {} : { damage: [...new Set(words)].join(' ') };
}

/** Of how many sources every frame that is used was decoded before, and how many frames that is. Sounds count as sources alone. */
function decodedOf(media: UsedMedia, known: CrateContext['decoded']): CrateLabel['decoded'] {
  const done = media.items.filter(({ item, used }) => {
    const frames = item.facts.durationFrames === null ? [{ start: 0, end: 1 }] : used;
    return item.content !== undefined && subtract(frames, known?.get(item.content) ?? []).length === 0;
  });
  const frames = done.filter(({ item }) => item.facts.kind !== 'audio').reduce((sum, { used }) => sum + totalFrames(used), 0);
  return { sources: done.length, of: media.items.length, frames };
}

/** What the timelines name beside the media that is offline, and what is left out of their metadata. */
function handedOnFindings(timelines: readonly PackagedTimeline[], media: UsedMedia): Finding[] {
  const offline = new Set(media.offline.flatMap(({ clip }) => clip.renditions.flatMap(({ links }) => links.map(({ expected }) => expected.name))));
  const unlinked = [...new Set(timelines.flatMap((timeline) => timeline.unlinked))].filter((name) => !offline.has(name));
  const shortened = timelines.reduce((sum, timeline) => sum + timeline.shortened, 0);
  return [
    ...(unlinked.length > 0
      ? [
          notes(
            'crate-unlinked',
            `The timelines name ${fewNames(unlinked)} in places that show nothing: disabled events, parts outside a nested timeline, other versions.`,
            'This media is left out. The events keep the file names.',
          ),
        ]
      : []),
    ...(shortened > 0
      ? [
          notes(
            'crate-no-paths',
            `${shortened === 1 ? 'One text' : `${formatCount(shortened)} texts`} in the timelines ${oneOrMany(shortened, 'names', 'name')} a folder of another system or of this house. Only the file name is kept.`,
          ),
        ]
      : []),
  ];
}

function holdsOf(media: UsedMedia): CrateHolds {
  const lacks: Partial<Record<LinkState, number>> = {};
  for (const { state } of media.offline) lacks[state] = (lacks[state] ?? 0) + 1;
  return { clips: new Set(media.items.flatMap((used) => used.clips)).size + media.offline.length, lacks };
}

function findProblem(
  snapshot: Snapshot,
  settings: CrateSettings,
  itemCount: number,
  folder: string,
  root: Place,
  bytes: number,
  context: CrateContext,
): Blocking | null {
  if (itemCount === 0) return nothingToTake(settings.timelineIds);
  if (folder === '') return { code: 'no-crate-name', message: 'The crate has no name.', hint: 'Type a name for it.' };
  if (context.exists)
    return {
      code: 'crate-exists',
      message: `A folder "${folder}" already stands in ${folderOf(root.path) || 'that place'}.`,
      hint: 'Choose another name: nothing is ever overwritten.',
    };
  return hiddenProblem(root.path) ?? destinationProblem(snapshot.shelves, root.shelfId, bytes, lessRoom(settings));
}

/** Every clip with the frames that its timelines use, from the first to the last of each range. */
function carriedOf(snapshot: Snapshot, timelineIds: readonly string[], media: UsedMedia): CrateCarries {
  const wanted = new Set(timelineIds);
  return {
    timelines: snapshot.timelines.filter(({ id }) => wanted.has(id)).map(({ id, name = '' }) => ({ id, name })),
    clips: media.items.flatMap(({ item: { place, fingerprint }, clips, used }) => {
      const ranges = used.length > 0 ? used : [{ start: null, end: null }];
      return clips.flatMap(({ id, name }) => ranges.map(({ start, end }) => ({ id, name, place, fingerprint, start, end })));
    }),
  };
}
