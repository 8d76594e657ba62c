import { planJoinClips, type JoinClips } from '../../../core/planning/join-clips/join-clips';
import { joinClipsForm, type JoinClipsSettings } from '../../../core/planning/join-clips/settings';
import type { CatalogueChange } from '../../../core/planning/plan/step';
import type { Joined } from '../../catalogue/join-clips';
import { StepFailure } from '../../errors/explain-error';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { noProject } from '../project-snapshot';
import type { JoinClipsDetail } from '../../../core/planning/join-clips/join-clips';
import { plural } from '../../../core/words/figures';

/** What takes it back. */
interface UnjoinClips extends CatalogueChange {
  readonly type: 'unjoin-clips';
  readonly joined: Joined;
}

const joinClips: ChangeMaker<JoinClips> = {
  make({ content, keep, join, mediaStart }, { catalogue, runId }) {
    const projectId = catalogue.runs.get(runId)?.projectId ?? '';
    const now = catalogue.joins.oneSource(projectId).find((group) => group.content === content);
    const still = new Set(now?.clipIds ?? []);
    if (![keep, ...join].every((id) => still.has(id)))
      throw new StepFailure('They are not one source any more: some were taken out or relinked since the plan was made. Look again.');
    const joined = catalogue.joins.join(projectId, keep, join, mediaStart);
    const back: UnjoinClips = { type: 'unjoin-clips', joined };
    return { bytes: 0, checked: `${join.length + 1} clips are one, in and out points untouched`, back };
  },
};

const unjoinClips: ChangeMaker<UnjoinClips> = {
  toTell: (change) => ({ ...change, joined: null }) as CatalogueChange,
  make({ joined }, { catalogue, runId }) {
    const back = catalogue.joins.unjoin(catalogue.runs.get(runId)?.projectId ?? '', joined);
    return { bytes: 0, checked: plural(back, 'clip is as it was', 'clips are as they were') };
  },
};

export const joinClipsKind = defineKind<JoinClipsSettings, JoinClipsDetail>()({
  form: joinClipsForm,
  undoable: true,
  isKept: true,
  changes: { 'join-clips': joinClips, 'unjoin-clips': unjoinClips },
  plan({ catalogue, projectId }) {
    const project = projectId === null ? null : catalogue.projects.get(projectId);
    if (!project) throw noProject();
    const groups = catalogue.joins.oneSource(project.id);
    const clips = new Map(catalogue.clips.ofProject(project.id, groups.flatMap(({ clipIds }) => clipIds)).map((clip) => [clip.id, clip])); // prettier-ignore
    const events = catalogue.timelines.eventsByClip(project.id);
    return Promise.resolve(
      planJoinClips(
        project,
        groups.map(({ content, clipIds }) => ({
          content,
          clips: clipIds.flatMap((id) => (clips.has(id) ? [{ clip: clips.get(id)!, events: events.get(id) ?? 0 }] : [])),
        })),
      ),
    );
  },
});
