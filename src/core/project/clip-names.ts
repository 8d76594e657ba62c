/** Names of clips by a pattern, as files get them when they are sorted. */
import { fileName, type Item } from '../media/item';
import { stemOf } from '../media/card';
import { renderPattern, usesNumber, type Pattern } from '../scheme/pattern';
import type { Clip } from './clip';

export interface NamedBy {
  readonly project: string;
  /** The day it is done, as 2026-05-04. */
  readonly date: string;
  /** What the clip reads; null where nothing of it is known. */
  readonly itemOf: (clip: Clip) => Item | null;
  /** The day a file was recorded, as 2026-05-04; null where it is not known. */
  readonly dayOf: (item: Item) => string | null;
}

/** Letters that a reel begins with name the camera, where the file does not. */
export function cameraOf(camera: string | undefined | null, reel: string | null): string | null {
  return camera ?? (reel === null ? null : (/^[A-Za-z]+/.exec(reel)?.[0]?.toUpperCase() ?? null));
}

/**
 * By clip id, in the order of `clips`. Numbers begin with 1. Where the pattern has none and several would get one name, the later
 * ones are numbered: "Bell 2". A clip that would get no name keeps its own.
 */
export function namesByPattern(clips: readonly Clip[], pattern: Pattern, by: NamedBy): Map<string, string> {
  const isNumbered = usesNumber(pattern);
  const given = new Map<string, number>();
  const names = new Map<string, string>();
  clips.forEach((clip, index) => {
    const item = by.itemOf(clip);
    const link = clip.renditions.find(({ kind }) => kind === 'source')?.links[0];
    const reel = item?.facts.reel ?? link?.expected.reel ?? null;
    const file = item?.originalName ?? (item ? fileName(item.place.path) : (link?.expected.name ?? ''));
    const values = {
      project: by.project,
      date: by.date,
      day: item && by.dayOf(item),
      camera: cameraOf(item?.facts.camera, reel),
      reel,
      scene: item?.facts.scene ?? null,
      take: item?.facts.take ?? null,
      kind: item?.facts.kind ?? link?.expected.kind ?? null,
      codec: item?.facts.video?.codec ?? item?.facts.audio[0]?.codec ?? null,
      clip: clip.name,
      original: file === '' ? clip.name : stemOf(file),
      bin: clip.binPath,
    };
    const name = renderPattern(pattern, values, index + 1).trim();
    const times = (given.get(name) ?? 0) + 1;
    given.set(name, times);
    names.set(clip.id, name === '' ? clip.name : isNumbered || times === 1 ? name : `${name} ${times}`);
  });
  return names;
}
