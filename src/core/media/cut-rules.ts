/** Which files a part can be taken out of without touching picture or sound, by their container. A container has its cutter on the server. */
import type { MediaFacts } from './item';

interface CutRule {
  readonly container: string;
  readonly kind: 'video' | 'audio';
  /** Why it is copied whole all the same; null where it can be cut. */
  readonly why: (facts: MediaFacts) => string | null;
}

/** What a cut of moving pictures would leave behind or could not place. */
function whyPictures({ audio, extraTracks, steadyRate }: MediaFacts): string | null {
  if (audio.some((sound) => !sound.codec.startsWith('pcm_'))) return 'compressed sound inside';
  if (extraTracks === undefined || steadyRate === undefined) return 'its tracks were not counted yet: look for changes on its shelf';
  if (extraTracks.pictures > 0) return 'a second picture track inside';
  if (extraTracks.subtitles > 0) return 'subtitles inside';
  if (extraTracks.data > 0) return 'a data track inside';
  if (extraTracks.covers > 0) return 'a cover picture inside';
  return steadyRate ? null : 'variable frame rate';
}

/** Containers in which a cut on the frame, or on the sample, has been proven. */
const CUT_RULES: readonly CutRule[] = [
  { container: 'mov', kind: 'video', why: whyPictures },
  { container: 'mxf', kind: 'video', why: whyPictures },
  { container: 'wav', kind: 'audio', why: ({ audio }) => (audio[0]?.codec.startsWith('pcm_') ? null : 'compressed sound') },
];

/** Why a file of this kind is copied whole; null where its container can be cut. */
export function whyNotCut(facts: MediaFacts, rules: readonly CutRule[] = CUT_RULES): string | null {
  const { container, kind } = facts;
  const rule = rules.find((own) => own.container === container && own.kind === kind);
  if (!rule) return kind === 'audio' ? `sound in ${container.toUpperCase()}` : `in ${container.toUpperCase()}`;
  return rule.why(facts);
}

/** Every container that can be cut: the server has a cutter for each. */
export const CUT_CONTAINERS: readonly string[] = CUT_RULES.map(({ container }) => container);
