/** Rows of a clip list: what it can say of clips, and what of a timeline it cannot. */
import { writeClipList } from '../../interchange/clip-list/clip-list-writer';
import type { ClipListRow } from '../../interchange/clip-list/clip-list-types';
import { sourceLink, type Clip } from '../../project/clip';
import { floorFrames } from '../../project/moment';
import { clipEvents, type Track } from '../../project/timeline';
import { rateLabel, sameRate } from '../../time/rate';
import { frameToTimecode } from '../../time/timecode';
import { notes, type Finding } from '../../words/finding';
import type { TimelineSnapshot } from '../plan/snapshot';
import { oneOrMany } from '../../words/figures';

/** What a clip list of a timeline leaves out. */
export function clipListFindings({ model }: TimelineSnapshot): Finding[] {
  const events = [...clipEvents(model.tracks)];
  const visit = (tracks: readonly Track[]): number =>
    tracks.reduce(
      (sum, track) =>
        sum + track.items.reduce((all, item) => all + (item.type === 'transition' ? 1 : item.type === 'nested' ? visit(item.tracks) : 0), 0),
      0,
    );
  const parts = [
    model.tracks.length > 1 ? `${model.tracks.length} tracks` : '',
    count(visit(model.tracks), 'transition'),
    count(events.filter((event) => event.map || event.speed.num !== event.speed.den).length, 'retime'),
    count(events.reduce((sum, event) => sum + event.markers.length, 0) + model.markers.length, 'mark'),
    count(events.filter((event) => !event.enabled).length, 'switched-off event'),
  ].filter((part) => part !== '');
  return parts.length === 0
    ? []
    : [notes('csv-flat', `A clip list holds points of sources, not the edit. Not in it: ${parts.join(', ')}.`, 'Export as OTIO to keep them.')];
}

function count(number: number, word: string): string {
  return number === 0 ? '' : `${number} ${word}${oneOrMany(number, '', 's')}`;
}

/** Clips of bins as a clip list: one row a clip, with its marks. */
export function clipListOfClips(clips: readonly Clip[], projectRate: { num: number; den: number }, dropFrame: boolean): string {
  return writeClipList(
    clips.map((clip): ClipListRow => {
      const link = sourceLink(clip);
      const rate = clip.marks?.rate ?? projectRate;
      const isOther = !sameRate(rate, projectRate);
      const label = (frame: number | null | undefined) => (frame === null || frame === undefined ? '' : frameToTimecode(frame, rate, dropFrame));
      return {
        name: clip.name,
        file: link?.place?.path ?? link?.url ?? '',
        reel: link?.expected.reel ?? '',
        start: clip.mediaStart ? label(floorFrames(clip.mediaStart, rate)) : '',
        in: label(clip.marks?.inFrame),
        out: label(clip.marks?.outFrame),
        bin: clip.binPath,
        notes: clip.note,
        rate: isOther ? rateLabel(rate) : '',
      };
    }),
  );
}
