/** The media that a plan takes, as its sheet tells it: rows, lines and findings. */
import type { Blocking } from '../plan/destination';
import { fewNames, plural, oneOrMany } from '../../words/figures';
import { codecName } from '../../media/codec-traits';
import { missingFrames, sequenceName } from '../../media/image-sequence';
import { fileName, placeKey, type Place } from '../../media/item';
import { LINK_STATES, type LinkState } from '../../project/clip';
import { totalFrames, type RangeSet } from '../../time/range';
import { formatRate } from '../../time/rate';
import { notes, warns, type Finding } from '../../words/finding';
import type { PackageLayout } from '../package/package-layout';
import type { PlanLine } from '../plan/plan';
import type { Snapshot } from '../plan/snapshot';
import { otherTimelinesUsing } from './other-timelines';
import type { TakeMethod, UsedItem, UsedMedia } from './used-media';
import type { UsedMediaSettings } from './settings';

/** A row of the list: the keep bar of one item. Ranges count item frames; `lengthFrames` is the bar's full length. */
export interface TakenRow {
  readonly itemId: string;
  readonly name: string;
  readonly place: Place;
  readonly state: LinkState;
  readonly codec: string;
  readonly lengthFrames: number;
  readonly rate: string | null;
  readonly used: RangeSet;
  readonly kept: RangeSet;
  readonly method: TakeMethod;
  readonly parts: number;
  readonly why: string | null;
  readonly keepsBytes: number;
  readonly ofBytes: number;
  readonly events: number;
  readonly shortHandles: boolean;
}

export interface OfflineRow {
  readonly clipId: string;
  readonly name: string;
  readonly state: LinkState;
  readonly events: number;
}

export interface TakenDetail {
  readonly rows: readonly TakenRow[];
  readonly offline: readonly OfflineRow[];
}

/** How sources are taken, or that they are not; the parts of the list. */
export const TAKEN_GROUPS = ['trim', 'frames', 'whole', 'offline'] as const;
export type TakenGroup = (typeof TAKEN_GROUPS)[number];

/** What its sheet gets of it at once: how many of each; the rows come in windows. */
export type TakenCounts = Readonly<Record<TakenGroup, number>>;

/** A line of the list: a source that is taken, or a clip that is offline. */
export interface TakenLine {
  readonly key: string;
  readonly taken: TakenRow | null;
  readonly offline: OfflineRow | null;
}

export function takenGroup({ taken }: TakenLine): TakenGroup {
  return taken?.method ?? 'offline';
}

/** All of them, what is offline at the end. */
export function takenList({ rows, offline }: TakenDetail): TakenLine[] {
  return [
    ...rows.map((taken): TakenLine => ({ key: taken.itemId, taken, offline: null })),
    ...offline.map((clip): TakenLine => ({ key: clip.clipId, taken: null, offline: clip })),
  ];
}

export function nothingToTake(timelineIds: readonly string[]): Blocking {
  return timelineIds.length === 0
    ? { code: 'no-timeline', message: 'No timeline is chosen.', hint: 'Choose at least one timeline.' }
    : { code: 'nothing-present', message: 'The chosen timelines use no media that is present.', hint: 'Relink first.' };
}

export function takenLines(media: UsedMedia, layout: PackageLayout): PlanLine[] {
  const count = (method: TakeMethod) => media.items.filter((used) => used.method === method);
  const line = (label: string, items: readonly UsedItem[]): PlanLine[] => {
    if (items.length === 0) return [];
    const steps = items.flatMap((used) => layout.parts.get(placeKey(used.item.place)) ?? []);
    return [{ label, files: items.length, bytes: steps.reduce((sum, part) => sum + part.step.expectedBytes, 0) }];
  };
  return [...line('Cut without re-encoding', count('trim')), ...line('Frames copied', count('frames')), ...line('Copied whole', count('whole'))];
}

/** `kept`: what an event keeps whose media is offline. */
export function mediaFindings(
  snapshot: Snapshot,
  settings: UsedMediaSettings,
  media: UsedMedia,
  ofBytes: number,
  keepsBytes: number,
  kept = 'the old link',
): Finding[] {
  const findings: Finding[] = [];
  for (const state of LINK_STATES) {
    const own = media.offline.filter((entry) => entry.state === state);
    if (own.length === 0) continue;
    const word = state === 'changed' ? 'has another file under its name' : `${oneOrMany(own.length, 'is', 'are')} ${state.replace('-', ' ')}`;
    const list = fewNames(own.map((entry) => entry.clip.name));
    const events = own.reduce((sum, entry) => sum + entry.events, 0);
    findings.push(
      warns(
        'clip-offline',
        `${list} ${word}; ${events === 1 ? 'the event keeps' : `${events} events keep`} ${kept}.`,
        'Relink first, or go on without.',
      ),
    );
  }
  for (const used of media.items) {
    const name = fileName(used.item.place.path);
    if (used.beyondFrames > 0)
      findings.push(
        warns(
          'beyond-media',
          `The timelines use ${used.beyondFrames} ${used.item.facts.kind === 'audio' ? 'samples' : 'frames'} that ${name} does not have.`,
          'Check whether the right take is linked.',
          used.item.id,
        ),
      );
    if (used.item.facts.sequence && missingFrames(used.item.facts.sequence) > 0)
      findings.push(
        warns(
          'sequence-gaps',
          `${name} lacks ${missingFrames(used.item.facts.sequence)} frames.`,
          'The frames that are there are copied.',
          used.item.id,
        ),
      );
  }
  const short = media.items.filter((used) => used.shortHandles).length;
  if (short > 0)
    findings.push(
      notes('short-handles', `${plural(short, 'file ends', 'files end')} before the full handle; the handle is as long as the media allows.`),
    );
  const others = otherTimelinesUsing(snapshot, settings, media);
  if (others.length > 0)
    findings.push(
      warns(
        'other-timelines',
        `${others.join(', ')} ${oneOrMany(others.length, 'uses', 'use')} other parts of these files.`,
        'Choose it as well if those parts are needed.',
      ),
    );
  if (settings.media === 'parts' && ofBytes > 0 && keepsBytes > ofBytes * 0.9)
    findings.push(
      notes(
        'small-gain',
        'Trimming saves next to nothing here: the shots are short against their handles, or most media is copied whole.',
        'Shorter handles or whole files may serve better.',
      ),
    );
  return findings;
}

export function takenDetail(media: UsedMedia, layout: PackageLayout): TakenDetail {
  const rows = media.items.map((used): TakenRow => {
    const parts = layout.parts.get(placeKey(used.item.place)) ?? [];
    const { facts } = used.item;
    return {
      itemId: used.item.id,
      name: facts.sequence ? sequenceName(facts.sequence) : fileName(used.item.place.path),
      place: used.item.place,
      state: used.state,
      codec: codecName(facts.video?.codec ?? facts.audio[0]?.codec ?? facts.container),
      lengthFrames: facts.durationFrames ?? Math.max(1, totalFrames(used.used)),
      rate: facts.rate ? formatRate(facts.rate) : null,
      used: used.used,
      kept: used.kept,
      method: used.method,
      parts: parts.length,
      why: used.why,
      keepsBytes: parts.reduce((sum, part) => sum + part.step.expectedBytes, 0),
      ofBytes: used.item.sizeBytes,
      events: used.uses.length,
      shortHandles: used.shortHandles,
    };
  });
  return { rows, offline: media.offline.map(({ clip, state, events }) => ({ clipId: clip.id, name: clip.name, state, events })) };
}
