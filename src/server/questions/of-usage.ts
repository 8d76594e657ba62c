/** Who uses what: of a choice of timelines, bins and clips. */
import type { Window } from '../../core/lists/list-window';
import type { Snapshot } from '../../core/planning/plan/snapshot';
import { sourceRendition } from '../../core/project/clip';
import { reportItem, reportUsage, usageKey, type UsageChoice } from '../../core/usage/usage-report';
import type { ClipLine } from '../catalogue/clip-lines';
import { mustHave } from '../errors/problem';
import type { ProjectLines } from '../projects/project-lines';
import { narrowedToUses } from '../projects/snapshot';
import { itemUsesView, usageTotals, usageWindow, type UsageRequest } from '../projects/usage-views';
import type { BinOnlyView, ItemUsageView, ItemUsesView, UsageTotals } from '../projects/views/usage';
import { ofProject, type OfProject, type QuestionOf } from './question';
import type { Studying } from './studying';

type UsageAnswer = UsageTotals | ItemUsesView | Window<ItemUsageView | BinOnlyView>;

const usage: QuestionOf<OfProject & { readonly request: UsageRequest }, UsageAnswer> = {
  lane: 'events',
  madeOf: ofProject,
  namesTimelines: true,
  answer: (study, { projectId, request }) => study.look(projectId, (snapshot, _, lines) => usageOf(study, snapshot, lines, request)),
};

const ids = (all: readonly { readonly id: string }[]) => all.map(({ id }) => id);

function usageOf({ catalogue, reports, madeOf }: Studying, snapshot: Snapshot, lines: () => ProjectLines, request: UsageRequest): UsageAnswer {
  const { bins, clipIds, countDisabled, parts, key } = request;
  const { project } = snapshot;
  const all = ids(snapshot.timelines);
  const choice: UsageChoice = {
    timelineIds: request.timelineIds === 'all' ? all : request.timelineIds,
    bins,
    clipIds,
    countDisabled,
    ...(parts ? { parts } : {}),
  };
  mustHave(all, choice.timelineIds, 'timeline');
  if (clipIds.length > 0) mustHave(ids(lines().clips), clipIds, 'clip');
  if (key !== undefined) {
    const links = (clip: ClipLine) => [...(sourceRendition(clip)?.links ?? []), ...(parts ? clip.parts : []).flatMap((part) => part.links)];
    const own = lines().clips.filter((clip) => links(clip).some((link) => usageKey(clip, link) === key));
    const read = narrowedToUses(catalogue, snapshot, ids(own));
    return itemUsesView(reportItem(read, choice, key), catalogue.timelines.entries(project.id), request);
  }
  const report = reports.of([project.id, JSON.stringify(choice)].join(), madeOf(project.id), () =>
    reportUsage(snapshot, choice, catalogue.timelines.clipsOn(project.id)),
  );
  return request.list ? usageWindow(report, request) : usageTotals(report);
}

export const usageQuestions = { usage };
