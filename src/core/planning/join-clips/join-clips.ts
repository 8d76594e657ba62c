/** Clips that are one source become one: of catalogues that were made before a source was one clip. */
import { fileName, type Place } from '../../media/item';
import { sourceRendition, type Clip } from '../../project/clip';
import type { Moment } from '../../project/moment';
import { notes, type Finding } from '../../words/finding';
import type { Plan } from '../plan/plan';
import { linkStep, type CatalogueChange } from '../plan/step';
import { plural } from '../../words/figures';

/** Clips whose files are equal in every byte, item by item; in the order in which they came. */
export interface OneSource {
  readonly content: string;
  readonly clips: readonly { readonly clip: Clip; readonly events: number }[];
}

export interface JoinClips extends CatalogueChange {
  readonly type: 'join-clips';
  readonly content: string;
  readonly keep: string;
  readonly join: readonly string[];
  readonly mediaStart: Moment | null;
}

export interface JoinRow {
  readonly name: string;
  readonly bin: string;
  readonly place: Place | null;
  /** Names of those that become part of it. */
  readonly others: readonly string[];
  readonly events: number;
  /** Why they stay apart; null where they do not. */
  readonly why: string | null;
}

export interface JoinClipsDetail {
  readonly rows: readonly JoinRow[];
}

export function planJoinClips(project: { readonly id: string }, groups: readonly OneSource[]): Plan<JoinClipsDetail> {
  const judged = groups.map((group) => ({ group, ...judge(group) }));
  const joined = judged.filter(({ why }) => why === null);
  const apart = judged.length - joined.length;
  const gone = joined.reduce((sum, { others }) => sum + others.length, 0);
  const findings: Finding[] =
    apart === 0
      ? []
      : [
          notes(
            'count-otherwise',
            `${plural(apart, 'source keeps', 'sources keep')} several clips: their timelines count its first frame in different ways.`,
            'Events would show other frames. Bring those timelines in again to have one clip.',
          ),
        ];
  return {
    kind: 'join-clips',
    title: `Join ${plural(gone, 'clip')} with others of the same source`,
    projectId: project.id,
    headline: { value: gone, of: groups.reduce((sum, { clips }) => sum + clips.length, 0), unit: 'clips', words: 'become part of another' },
    lines: [
      { label: 'Sources with several clips', text: String(groups.length) },
      { label: 'Have one afterwards', text: String(joined.length) },
      { label: 'Bins, notes, proxies', text: 'are kept' },
      { label: 'In and out points', text: 'stay as they are' },
      { label: 'Can be undone', text: 'yes' },
      { label: 'Files moved or written', text: 'none' },
    ],
    fills: [],
    findings,
    steps: joined.map(({ group, keep, others, mediaStart }) =>
      linkStep<JoinClips>(0, `${others.length + 1} clips of ${fileOf(keep.clip)} become one`, {
        type: 'join-clips',
        content: group.content,
        keep: keep.clip.id,
        join: others.map(({ clip }) => clip.id),
        mediaStart,
      }),
    ),
    blocked: joined.length > 0 ? null : groups.length === 0 ? 'Every source has one clip.' : 'None of them can be joined.',
    detail: {
      rows: judged.map(({ keep, others, why }) => ({
        name: keep.clip.name,
        bin: keep.clip.binPath,
        place: sourceRendition(keep.clip)?.links[0]?.place ?? null,
        others: others.map(({ clip }) => (clip.binPath === '' ? clip.name : `${clip.name} in ${clip.binPath}`)),
        events: keep.events + others.reduce((sum, { events }) => sum + events, 0),
        why,
      })),
    },
  };
}

type Member = OneSource['clips'][number];

/** The one that stays: what lies in a bin, what the user made, what is used most, what came first. */
function judge({ clips }: OneSource): { keep: Member; others: readonly Member[]; mediaStart: Moment | null; why: string | null } {
  const rank = ({ clip, events }: Member) => (clip.binPath === '' ? 0 : 4) + (clip.madeBy === 'timeline' ? 0 : 2) + (events > 0 ? 1 : 0);
  const [keep, ...others] = [...clips].sort((a, b) => rank(b) - rank(a));
  // Without a start and without events a clip says nothing of how it is counted.
  const counting = clips.filter(({ clip, events }) => events > 0 || clip.mediaStart !== null);
  const starts = new Set(
    counting.map(({ clip: { mediaStart } }) => (mediaStart ? `${mediaStart.value} ${mediaStart.rate.num}/${mediaStart.rate.den}` : '')),
  );
  const conforms = new Set(clips.map(({ clip }) => clip.conform));
  const why = starts.size > 1 || conforms.size > 1 ? 'their timelines count it in different ways' : null;
  return { keep: keep!, others, mediaStart: counting[0]?.clip.mediaStart ?? null, why };
}

function fileOf(clip: Clip): string {
  const link = sourceRendition(clip)?.links[0];
  return link?.place ? fileName(link.place.path) : clip.name;
}
