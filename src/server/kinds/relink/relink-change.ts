/** Another link for a clip, made only while the file found is what the plan saw. */
import { randomUUID } from 'node:crypto';
import { isUntouched } from '../../../core/media/identity';
import { fileName, samePlace, type Place } from '../../../core/media/item';
import type { RelinkChange } from '../../../core/planning/relink/relink-steps';
import type { MediaLink } from '../../../core/project/clip';
import type { Catalogue } from '../../catalogue/catalogue';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeMaker } from '../../actions/step-context';

export const relinkChange: ChangeMaker<RelinkChange> = {
  standsAlone: true,
  make(change, { catalogue }, { mustHold }) {
    if (mustHold && change.link.place) {
      const item = catalogue.items.at(change.link.place);
      const same = item && item.sizeBytes === mustHold.sizeBytes && item.modifiedMs === mustHold.modifiedMs;
      const untouched =
        !item?.identity || !mustHold.identity || isUntouched(item.identity, mustHold.identity) || item.fingerprint === mustHold.fingerprint;
      if (!same || !untouched) throw new StepFailure('The file found was changed or moved after the plan was made. Look again.');
    }
    mustBeCopies(change.equalTo ?? [], catalogue);
    const now = catalogue.clips.linkAt(change.renditionId, change.position);
    if (!now) throw new StepFailure('The clip was taken out of the project meanwhile.');
    if (isSameLink(now, change.link)) return { bytes: 0, checked: 'linked so already' };
    if (change.only && !isSameLink(now, change.only)) {
      if (change.leaveIfChanged) return { bytes: 0, checked: 'relinked again since; left as it is' };
      throw new StepFailure('The clip was relinked after the plan was made. Look again.');
    }
    catalogue.clips.relink(change.renditionId, change.position, change.link);
    // What was rendered anew under its name: the earlier delivery stays known as one of this clip.
    if (samePlace(now.place, change.link.place)) catalogue.parts.addEarlier(change.clipId, randomUUID(), change.position, now);
    const checked = samePlace(now.place, change.link.place) ? 'the same place, another file accepted' : 'in and out points untouched';
    return { bytes: 0, checked, back: { ...change, link: now, only: change.link, leaveIfChanged: true } satisfies RelinkChange };
  },
};

/** Files of one fingerprint: only their checksums tell whether they are copies of each other. */
function mustBeCopies(places: readonly Place[], catalogue: Catalogue): void {
  const read = places.map((place) => ({ name: fileName(place.path), sha256: catalogue.items.at(place)?.sha256 ?? null }));
  const unread = read.find(({ sha256 }) => sha256 === null);
  if (unread) throw new StepFailure(`${unread.name} could not be read whole, so it is not proven to be the file. Choose it yourself, or look again.`);
  if (new Set(read.map(({ sha256 }) => sha256)).size > 1)
    throw new StepFailure('Files of one size and fingerprint turned out to be different. Look again and choose the right one yourself.');
}

function isSameLink(a: MediaLink, b: MediaLink): boolean {
  const isSamePlace = samePlace(a.place, b.place) || (a.place === null && b.place === null);
  const [sumA, sumB] = [a.expected.sha256, b.expected.sha256];
  return isSamePlace && a.url === b.url && a.expected.fingerprint === b.expected.fingerprint && (!sumA || !sumB || sumA === sumB);
}
