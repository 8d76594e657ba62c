/** Timelines as they stand, and what changes how they are read. */
import { randomUUID } from 'node:crypto';
import { notFound } from '../errors/problem';
import { compareView } from '../projects/compare-view';
import { narrowed, partsStamp } from '../projects/snapshot';
import { recount, type CountWish } from '../projects/source-counts';
import { timelineSummaries, timelineView } from '../projects/timeline-views';
import { unmatch } from '../projects/unmatch';
import type { CompareView } from '../projects/views/compare';
import type { TimelineSummary, TimelineView } from '../projects/views/timeline';
import { ofProject, type OfProject, type QuestionOf } from './question';

type OfTimeline = OfProject & { readonly timelineId: string };

/** What had to be summed up anew is kept, if nothing is another by now. */
const timelines: QuestionOf<OfProject, TimelineSummary[]> = {
  lane: 'events',
  madeOf: ofProject,
  async answer({ catalogue, look }, { projectId }) {
    const seen = await look(projectId, (snapshot, project, lines) => {
      const figures = catalogue.timelines.figures(project.id);
      const known = new Set(figures.keys());
      const made = partsStamp(catalogue, project.id);
      const view = timelineSummaries(catalogue, snapshot, lines(), figures);
      return { view, made, fresh: [...figures].filter(([id]) => !known.has(id)) };
    });
    if (seen.fresh.length > 0)
      catalogue.keepIfFree(() => {
        if (partsStamp(catalogue, projectId) === seen.made) seen.fresh.forEach(([id, figures]) => catalogue.timelines.putFigures(id, figures));
      });
    return seen.view;
  },
};

const timeline: QuestionOf<OfTimeline, TimelineView> = {
  lane: 'events',
  madeOf: ofProject,
  namesTimelines: true,
  answer: ({ catalogue, look }, { projectId, timelineId }) =>
    look(projectId, (snapshot, project) => {
      const row = catalogue.timelines.entries(project.id).find((entry) => entry.id === timelineId);
      const found = snapshot.timelines.find((entry) => entry.id === timelineId);
      if (!row || !found) throw notFound('timeline');
      const used = new Set(found.clipIds.filter((id) => id !== null));
      return timelineView(catalogue, row, found, narrowed(catalogue, snapshot, [...used]));
    }),
};

const compare: QuestionOf<OfProject & { readonly before: string; readonly after: string }, CompareView> = {
  lane: 'events',
  madeOf: ofProject,
  namesTimelines: true,
  answer: ({ catalogue, look }, { projectId, before, after }) =>
    look(projectId, (snapshot) => {
      const compared = snapshot.timelines.filter(({ id }) => id === before || id === after);
      const used = new Set(compared.flatMap(({ clipIds }) => clipIds.filter((id) => id !== null)));
      const view = compareView(narrowed(catalogue, snapshot, [...used]), before, after);
      if (!view) throw notFound('timeline');
      return view;
    }),
};

const unmatchAsked: QuestionOf<OfTimeline, { timelineId: string }> = {
  lane: 'look',
  namesTimelines: true,
  changes: true,
  answer({ catalogue, mounts }, { projectId, timelineId: asked }) {
    const timelineId = unmatch(catalogue, mounts, projectId, asked, randomUUID);
    if (timelineId === null) throw notFound('timeline with matched clips');
    return { timelineId };
  },
};

const recountAsked: QuestionOf<OfTimeline & { readonly wish: CountWish }, { timelineId: string }> = {
  lane: 'look',
  namesTimelines: true,
  changes: true,
  answer({ catalogue }, { projectId, timelineId: asked, wish }) {
    const timelineId = recount(catalogue, projectId, asked, wish);
    if (timelineId === null) throw notFound('timeline');
    return { timelineId };
  },
};

export const timelineQuestions = { timelines, timeline, compare, unmatch: unmatchAsked, recount: recountAsked };
