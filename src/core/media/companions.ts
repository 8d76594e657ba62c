/** Files that are one recording together: picture and sound in files of their own. */
import { ceilToRate, floorToRate } from '../time/convert';
import { byName } from '../naming/by-name';
import { stemOf } from './card';
import { fileName, folderOf, type Item } from './item';

/** Frames that two starts may differ by: recorders begin between the frames of the camera. */
const START_SLACK_FRAMES = 1;

/**
 * The items that belong to the same recording as `item`, itself among them, picture first. They are tied by material
 * identifier, by reel and start timecode (a picture without sound, and sound files), or by one name in one folder and one
 * length (the same). Only items of the same shelf
 * count, and those of the same folder win over copies elsewhere on it. Alone, it is its own recording.
 */
export function recordingOf(item: Item, shelfItems: readonly Item[]): readonly Item[] {
  const others = shelfItems.filter((other) => other.id !== item.id && other.place.shelfId === item.place.shelfId);
  const tied = others.filter((other) => sharesMaterial(item, other) || sharesReelAndTime(item, other) || sharesName(item, other));
  const near = tied.filter((other) => folderOf(other.place.path) === folderOf(item.place.path));
  const chosen = oneOfEach([item, ...(near.length > 0 ? near : tied)]);
  if (chosen.filter((entry) => entry.facts.kind === 'video').length > 1) return [item];
  return [...chosen].sort((a, b) => Number(a.facts.kind === 'audio') - Number(b.facts.kind === 'audio') || compareNames(a, b));
}

function compareNames(a: Item, b: Item): number {
  return byName(fileName(a.place.path), fileName(b.place.path));
}

function sharesMaterial(a: Item, b: Item): boolean {
  return !!a.facts.materialId && a.facts.materialId === b.facts.materialId && (a.facts.kind === 'audio' || b.facts.kind === 'audio');
}

function sharesReelAndTime(a: Item, b: Item): boolean {
  const [picture, sound] = a.facts.kind === 'audio' ? [b, a] : [a, b];
  if (picture.facts.kind !== 'video' || sound.facts.kind !== 'audio' || picture.facts.audio.length > 0) return false;
  if (!picture.facts.reel || picture.facts.reel.toLowerCase() !== sound.facts.reel?.toLowerCase()) return false;
  const { startFrame, rate } = picture.facts;
  if (startFrame === null || rate === null || sound.facts.startFrame === null || sound.facts.rate === null) return false;
  const from = floorToRate(startFrame - START_SLACK_FRAMES, rate, sound.facts.rate);
  const to = ceilToRate(startFrame + START_SLACK_FRAMES, rate, sound.facts.rate);
  return sound.facts.startFrame >= from && sound.facts.startFrame <= to;
}

/** A picture without sound and its sound, named alike in one folder, as long as each other to a frame of the picture. */
function sharesName(a: Item, b: Item): boolean {
  const [picture, sound] = a.facts.kind === 'audio' ? [b, a] : [a, b];
  if (picture.facts.kind !== 'video' || sound.facts.kind !== 'audio' || picture.facts.audio.length > 0) return false;
  if (folderOf(a.place.path) !== folderOf(b.place.path) || stemOf(a.place.path).toLowerCase() !== stemOf(b.place.path).toLowerCase()) return false;
  const { rate, durationFrames } = picture.facts;
  if (rate === null || durationFrames === null || sound.facts.rate === null || sound.facts.durationFrames === null) return false;
  const from = floorToRate(durationFrames - START_SLACK_FRAMES, rate, sound.facts.rate);
  const to = ceilToRate(durationFrames + START_SLACK_FRAMES, rate, sound.facts.rate);
  return sound.facts.durationFrames >= from && sound.facts.durationFrames <= to;
}

/** Copies of the same content count once. */
function oneOfEach(items: readonly Item[]): Item[] {
  const seen = new Set<string>();
  return items.filter((item) => {
    const key = item.fingerprint ?? item.id;
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}
