/**
 * Questions about projects that take reading and reckoning: views, plans, usage, and bringing timelines in. They are
 * answered in worker threads, from a connection of their own, so that the server's event loop stays free.
 */
import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { previewClipList } from '../core/interchange/clip-list/clip-list-reader';
import type { ColumnMap } from '../core/interchange/clip-list/clip-list-types';
import { readTimelineFile } from '../core/interchange/read-timeline-file';
import type { Place } from '../core/media/item';
import type { Finding } from '../core/words/finding';
import type { Plan } from '../core/planning/plan/plan';
import { asItIs } from '../core/planning/plan/plan-text';
import { longTexts } from '../core/planning/plan/texts-apart';
import type { Snapshot } from '../core/planning/plan/snapshot';
import { reportItem, reportUsage, usageKey, type UsageChoice, type UsageReport } from '../core/usage/usage-report';
import { sourceRendition } from '../core/project/clip';
import type { Rate } from '../core/time/rate';
import { mustHave, Problem, notFound } from './api/problem';
import type { TimelineSummary } from './api/views';
import { Catalogue } from './catalogue/catalogue';
import { nameText, PackedTexts } from './catalogue/run-texts';
import type { ProjectRow } from './catalogue/projects';
import type { Config } from './config';
import { DriveBay } from './devices/drive-bay';
import { binViews } from './projects/bin-views';
import { AddressBook } from './projects/address-book';
import { bringIn, matchNamed, namedBy } from './projects/bring-in';
import type { MatchChoice } from './projects/match-sources';
import { matchSummary } from './projects/match-view';
import { countsAhead } from './projects/counts-ahead';
import { recount, type CountWish } from './projects/source-counts';
import { unmatch } from './projects/unmatch';
import { decodeText } from './projects/decode-text';
import { compareView } from './projects/compare-view';
import { KINDS, type PlanRequest } from './kinds/kinds';
import { makePlan, planDigest } from './kinds/make-plan';
import { clipWindow, type ClipQuery } from './projects/clip-views';
import { clipFiles } from './projects/copies-view';
import { overviewView, projectView } from './projects/project-views';
import { lookAt, narrowed, narrowedToUses, partsStamp } from './projects/snapshot';
import type { ProjectLines } from './projects/project-lines';
import { crateViews } from './projects/safety';
import { withCurrentIds } from './projects/current-ids';
import { timelineSummaries, timelineView } from './projects/timeline-views';
import type { ClipLine } from './catalogue/clip-lines';
import { itemUsesView, usageTotals, usageWindow, type UsageRequest } from './projects/usage-views';
import { claimFolder, claimOf } from './runs/claim-folder';
import { enterRun } from './runs/enter-run';
import { LastMade } from './last-made';
import type { WindowQuery } from './list-window';
import { planView } from './kinds/plan-views';
import { stepWindow } from './projects/step-views';
import { fewFolders, writeHouseNote } from './stock/house-notes';
import { Mounts } from './stock/mounts';

export type Question =
  | { readonly ask: 'projects' | 'note-house' }
  | { readonly ask: 'head' | 'project' | 'overview' | 'timelines' | 'bins' | 'crates'; readonly projectId: string }
  | { readonly ask: 'clips'; readonly projectId: string; readonly query: ClipQuery }
  | { readonly ask: 'clip-files'; readonly projectId: string; readonly clipId: string }
  | { readonly ask: 'timeline'; readonly projectId: string; readonly timelineId: string }
  | { readonly ask: 'usage'; readonly projectId: string; readonly request: UsageRequest }
  | { readonly ask: 'compare'; readonly projectId: string; readonly before: string; readonly after: string }
  | { readonly ask: 'steps'; readonly runId: number; readonly query: WindowQuery<'ordinal'> }
  | { readonly ask: 'plan'; readonly projectId: string | null; readonly request: PlanRequest }
  | {
      readonly ask: 'plan-rows';
      readonly projectId: string;
      readonly request: PlanRequest;
      readonly group: string;
      readonly query: WindowQuery<string>;
    }
  | { readonly ask: 'plan-text'; readonly projectId: string; readonly request: PlanRequest; readonly as: 'csv' | 'html' }
  /** A plan that was read, as a run that is about to begin; see POST /api/runs. */
  | { readonly ask: 'enter-run'; readonly projectId: string | null; readonly request: PlanRequest; readonly digest: string }
  | {
      readonly ask: 'preview';
      readonly source: TimelineSource;
      readonly folder: Place | null;
      readonly rate: Rate;
      readonly columns?: ColumnMap;
      readonly findings: readonly Finding[];
      /** How media is looked for; null tells what the file holds alone. */
      readonly match: MatchChoice | null;
    }
  | { readonly ask: 'unmatch'; readonly projectId: string; readonly timelineId: string }
  | { readonly ask: 'recount'; readonly projectId: string; readonly timelineId: string; readonly wish: CountWish }
  | {
      readonly ask: 'bring-in';
      readonly projectId: string;
      readonly source: TimelineSource;
      readonly name: string;
      readonly folder: Place | null;
      readonly rate: Rate;
      readonly columns?: ColumnMap;
      /** What was said on the way here, kept with the timelines. */
      readonly findings: readonly Finding[];
      /** How media is looked for; null links nothing but by address. */
      readonly match: MatchChoice | null;
    };

/** A text, or the absolute path of a file that holds one. */
export type TimelineSource = { readonly text: string } | { readonly file: string };

const MOST_KEPT_BYTES = 32 * 1024 * 1024;

type NoView = 'projects' | 'note-house' | 'steps' | 'plan' | 'plan-rows' | 'plan-text' | 'enter-run' | 'preview' | 'bring-in' | 'unmatch' | 'recount';
const NO_VIEWS: readonly Question['ask'][] = [
  'projects',
  'note-house',
  'steps',
  'plan',
  'plan-rows',
  'plan-text',
  'enter-run',
  'preview',
  'bring-in',
  'unmatch',
  'recount',
] satisfies NoView[];

/** Views say how things stand; plans look at the disks too, and bringing in changes something. */
function isView(question: Question): question is Exclude<Question, { ask: NoView }> {
  return !NO_VIEWS.includes(question.ask);
}

const NAMES_TIMELINES: readonly Question['ask'][] = ['timeline', 'usage', 'compare', 'plan', 'plan-rows', 'plan-text', 'enter-run', 'unmatch', 'recount']; // prettier-ignore

export class Study {
  /** Answers that were given, the latest last, each with what it was made of. */
  private readonly kept = new Map<string, { made: string; json: string }>();
  private keptBytes = 0;
  /** Reports that lists are windows of. */
  private readonly reports = new LastMade<UsageReport>(2);
  private readonly plans = new LastMade<Promise<Plan>>(1);
  /** Plans that go by the disks too, without their steps: what their sheets list is the same while the catalogue is. */
  private readonly lists = new LastMade<Promise<Plan>>(1);

  constructor(
    readonly catalogue: Catalogue,
    readonly mounts: Mounts,
  ) {}

  static open(config: Config): Study {
    const bay = config.bayFolder ? new DriveBay(config.bayFolder) : null;
    return new Study(
      Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), true),
      new Mounts(join(config.dataFolder, 'mounts.json'), config.roots, bay),
    );
  }

  /** The answer as JSON; as it was given before where nothing is another that it was made of. */
  async answerJson(question: Question): Promise<string> {
    if (question.ask === 'projects') {
      const heads = this.catalogue.projects.list().map(({ id }) => this.answerJson({ ask: 'head', projectId: id }).catch(unlessRemoved));
      return `[${(await Promise.all(heads)).filter((json) => json !== null).join(',')}]`;
    }
    if (!isView(question)) return JSON.stringify(await this.answer(question));
    this.mounts.reload();
    // Read before the answer is made: what changes meanwhile is another stamp the next time.
    // The overview tells of folders that are watched on whatever shelf.
    const made = question.ask === 'overview' ? this.madeOfAll(question.projectId) : this.madeOf(question.projectId);
    const key = JSON.stringify(question);
    const known = this.kept.get(key);
    if (known?.made === made) return known.json;
    const json = JSON.stringify(await this.answer(question));
    this.keep(key, { made, json });
    return json;
  }

  private madeOf(projectId: string): string {
    const { catalogue, mounts } = this;
    const attached = catalogue.shelves.list().map(({ id }) => `${id} ${mounts.rootOf(id) !== null}`);
    const crates = catalogue.crates.shelvesOf(projectId).map((id) => `${id} ${catalogue.stamp(id)}`);
    return [partsStamp(catalogue, projectId), catalogue.stamp(`words ${projectId}`), ...crates, ...attached].join();
  }

  /** All that a plan may read, of whatever project, shelf or run: no kind says by hand what it goes by. */
  private madeOfHouse(): string {
    const { catalogue, mounts } = this;
    return [catalogue.state(), ...catalogue.shelves.list().map(({ id }) => `${id} ${mounts.rootOf(id) !== null}`)].join();
  }

  private madeOfAll(projectId: string): string {
    const stock = this.catalogue.shelves.list().map(({ id }) => this.catalogue.stamp(id));
    return [this.madeOf(projectId), ...stock].join();
  }

  private keep(key: string, answer: { made: string; json: string }): void {
    this.keptBytes += answer.json.length - (this.kept.get(key)?.json.length ?? 0);
    this.kept.delete(key);
    this.kept.set(key, answer);
    for (const [oldest, { json }] of this.kept) {
      if (this.keptBytes <= MOST_KEPT_BYTES) return;
      this.kept.delete(oldest);
      this.keptBytes -= json.length;
    }
  }

  async answer(asked: Question): Promise<unknown> {
    this.mounts.reload();
    // Who asks may know a timeline by an id it had before.
    const question = NAMES_TIMELINES.includes(asked.ask) && 'projectId' in asked && asked.projectId !== null ? withCurrentIds(asked, this.catalogue.timelines.followers(asked.projectId)) : asked; // prettier-ignore
    switch (question.ask) {
      case 'projects':
        return JSON.parse(await this.answerJson(question)) as unknown;
      case 'note-house':
        return this.noteHouse();
      case 'head':
        return this.look(question.projectId, (_, project, lines) => projectView(this.catalogue, project, lines()));
      case 'project':
        return this.look(question.projectId, (_, project, lines) => ({
          ...projectView(this.catalogue, project, lines()),
          remembered: withCurrentIds(this.catalogue.projects.remembered(project.id), this.catalogue.timelines.followers(project.id)),
        }));
      case 'overview':
        return this.look(question.projectId, ({ shelves }, project, lines) => overviewView(this.catalogue, project, lines(), shelves));
      case 'clips':
        return this.look(question.projectId, (snapshot, _, lines) => clipWindow(this.catalogue, snapshot, lines(), question.query));
      case 'crates':
        return this.look(question.projectId, (_, project, lines) => crateViews(this.catalogue, project.id, lines()));
      case 'clip-files':
        return this.look(question.projectId, (snapshot) => {
          const files = clipFiles(this.catalogue, snapshot, question.clipId);
          if (!files) throw notFound('clip');
          return files;
        });
      case 'timelines':
        return this.timelines(question.projectId);
      case 'timeline':
        return this.look(question.projectId, (snapshot, project) => {
          const row = this.catalogue.timelines.entries(project.id).find((entry) => entry.id === question.timelineId);
          const timeline = snapshot.timelines.find((entry) => entry.id === question.timelineId);
          if (!row || !timeline) throw notFound('timeline');
          const used = new Set(timeline.clipIds.filter((id) => id !== null));
          return timelineView(this.catalogue, row, timeline, narrowed(this.catalogue, snapshot, [...used]));
        });
      case 'bins':
        return this.look(question.projectId, (_, project, lines) => binViews(this.catalogue, project.id, lines()));
      case 'usage':
        return this.look(question.projectId, (snapshot, _, lines) => this.usage(snapshot, lines, question.request));
      case 'compare':
        return this.look(question.projectId, (snapshot) => {
          const compared = snapshot.timelines.filter(({ id }) => id === question.before || id === question.after);
          const used = new Set(compared.flatMap(({ clipIds }) => clipIds.filter((id) => id !== null)));
          const view = compareView(narrowed(this.catalogue, snapshot, [...used]), question.before, question.after);
          if (!view) throw notFound('timeline');
          return view;
        });
      case 'steps':
        return stepWindow(this.catalogue, question.runId, question.query);
      case 'plan': {
        const plan = await this.plan(question.projectId, question.request);
        return { digest: planDigest(plan), plan: planView(plan) };
      }
      case 'plan-rows':
        return this.planRows(question);
      case 'plan-text': {
        const { toKeep } = KINDS[question.request.kind];
        if (!toKeep) throw notFound('text of this plan');
        return { text: toKeep(await this.plan(question.projectId, question.request), question.request.settings, this.catalogue)[question.as]() };
      }
      case 'enter-run': {
        const texts = new PackedTexts();
        const { goesByDisks } = KINDS[question.request.kind];
        // What nobody told the catalogue of is looked at once more.
        if (goesByDisks?.(await this.plan(question.projectId, question.request))) this.plans.forget(planKey(question.projectId, question.request));
        const plan = await this.plan(question.projectId, question.request, texts.keep);
        const stop = plan.findings.find(({ severity }) => severity === 'stops' || severity === 'asks');
        if (plan.blocked !== null) throw new Problem(409, 'blocked', plan.blocked, stop?.hint);
        if (planDigest(plan) !== question.digest)
          throw new Problem(409, 'plan-changed', 'Things have changed since you read this plan.', 'Read the new plan, then run it.');
        const claim = claimOf(plan);
        const id = enterRun(this.catalogue, plan, question.digest, texts.bySha, claim && ((runId) => claimFolder(claim, runId, this)));
        // From now on the run is looked at: a plan of many clips takes much room.
        this.plans.forget(planKey(question.projectId, question.request));
        return { id };
      }
      case 'preview':
        return this.preview(question);
      case 'bring-in':
        return this.bringIn(question);
      case 'unmatch': {
        const timelineId = unmatch(this.catalogue, this.mounts, question.projectId, question.timelineId, randomUUID);
        if (timelineId === null) throw notFound('timeline with matched clips');
        return { timelineId };
      }
      case 'recount': {
        const timelineId = recount(this.catalogue, question.projectId, question.timelineId, question.wish);
        if (timelineId === null) throw notFound('timeline');
        return { timelineId };
      }
    }
  }

  /**
   * A plan that goes by the catalogue alone is made once for its sheet, its rows and its run, while nothing there is
   * another. One that looks at the disks is made anew for its sheet and its run: who looks at it needs no texts, they are
   * known by their SHA-256.
   */
  private plan(projectId: string | null, request: PlanRequest, keepText = longTexts(nameText)): Promise<Plan> {
    const make = (keep = keepText) => makePlan(this.catalogue, this.mounts, projectId, request, keep);
    const { isKept, rows } = KINDS[request.kind];
    if (projectId === null) return make();
    if (isKept) return this.lastMade(this.plans, projectId, request, () => make(asItIs));
    if (!rows) return make();
    this.lists.forget(planKey(projectId, request));
    return new Promise((resolve) => {
      // Who asks hears of a failure by the plan itself.
      this.lastMade(this.lists, projectId, request, () => {
        const made = make();
        resolve(made);
        return made.then(withoutSteps);
      }).catch(() => undefined);
    });
  }

  private lastMade(kept: LastMade<Promise<Plan>>, projectId: string, request: PlanRequest, make: () => Promise<Plan>): Promise<Plan> {
    const key = planKey(projectId, request);
    return kept.of(key, this.madeOfHouse(), make).catch((error: unknown) => {
      kept.forget(key);
      throw error;
    });
  }

  /** On every shelf that is plugged in and can be written to: what is read of it here. */
  private noteHouse(): { noted: number } {
    const { catalogue, mounts } = this;
    const at = new Date().toISOString();
    let noted = 0;
    for (const { id } of catalogue.shelves.list()) {
      const root = mounts.rootOf(id);
      if (root === null) continue;
      try {
        writeHouseNote(root, { house: catalogue.id, name: hostname(), at, reads: fewFolders(catalogue.holdings.foldersLinked(id)) });
        noted++;
      } catch {
        // It cannot be written to: nobody is told.
      }
    }
    return { noted };
  }

  private async planRows({ projectId, request, group, query }: Extract<Question, { ask: 'plan-rows' }>): Promise<unknown> {
    const { rows, isKept } = KINDS[request.kind];
    if (!rows) throw notFound('list of this plan');
    const plan = isKept
      ? await this.plan(projectId, request)
      : await this.lastMade(this.lists, projectId, request, async () =>
          withoutSteps(await makePlan(this.catalogue, this.mounts, projectId, request, longTexts(nameText))),
        );
    return rows.of(plan, request.settings, group, query as WindowQuery<never>);
  }

  private usage(snapshot: Snapshot, lines: () => ProjectLines, request: UsageRequest): unknown {
    const { bins, clipIds, countDisabled, parts, key } = request;
    const { project } = snapshot;
    const ids = (all: readonly { readonly id: string }[]) => all.map(({ id }) => id);
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
      const read = narrowedToUses(this.catalogue, snapshot, ids(own));
      return itemUsesView(reportItem(read, choice, key), this.catalogue.timelines.entries(project.id), request);
    }
    const report = this.reports.of([project.id, JSON.stringify(choice)].join(), this.madeOf(project.id), () =>
      reportUsage(snapshot, choice, this.catalogue.timelines.clipsOn(project.id)),
    );
    return request.list ? usageWindow(report, request) : usageTotals(report);
  }

  /** What had to be summed up anew is kept, if nothing is another by now. */
  private async timelines(projectId: string): Promise<TimelineSummary[]> {
    const { catalogue } = this;
    const seen = await this.look(projectId, (snapshot, project, lines) => {
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
  }

  private async look<T>(projectId: string, view: (snapshot: Snapshot, project: ProjectRow, lines: () => ProjectLines) => T): Promise<T> {
    const seen = await lookAt(this.catalogue, this.mounts, projectId, (snapshot, lines) => ({
      view: view(snapshot, this.catalogue.projects.get(projectId)!, lines),
    }));
    if (!seen) throw notFound('project');
    return seen.view;
  }

  private async preview({ source, folder, rate, columns, findings, match }: Extract<Question, { ask: 'preview' }>) {
    const { text, findings: said } = await textOf(source);
    const file = readTimelineFile(text, rate, columns ? { columns } : {});
    const { catalogue, mounts } = this;
    const book = new AddressBook(catalogue, mounts, folder);
    const named = namedBy(file);
    const { matches, found } = catalogue.moment(() => {
      const matches = match && matchNamed(catalogue, mounts, book, named, match);
      return { matches, found: match ? countsAhead(book, file, named, matches) : file.findings };
    });
    return {
      matches: matches && matchSummary(matches, file.format === 'otio' ? null : rate),
      format: file.format,
      timelines: file.timelines.map(({ timeline, bins }) => ({
        name: timeline.name,
        bins,
        rate: timeline.rate,
        dropFrame: timeline.dropFrame,
        durationFrames: timeline.durationFrames,
        events: timeline.eventCount,
        tracks: timeline.tracks.length,
      })),
      clips: file.clips.length,
      findings: [...findings, ...said, ...found],
      table: file.format === 'clip-list' ? previewClipList(text) : null,
    };
  }

  private async bringIn({ projectId, source, name, folder, rate, columns, findings, match }: Extract<Question, { ask: 'bring-in' }>) {
    if (!this.catalogue.projects.get(projectId)) throw notFound('project');
    const { text, findings: said } = await textOf(source);
    const read = readTimelineFile(text, rate, columns ? { columns } : {});
    const file = { ...read, findings: [...findings, ...said, ...read.findings] };
    const stopped =
      file.timelines.length + file.clips.length === 0 ? (read.findings.find((finding) => finding.severity === 'stops') ?? read.findings[0]) : null;
    if (stopped) throw new Problem(400, stopped.code, `${name}${stopped.where ? `, ${stopped.where}` : ''}: ${stopped.message}`, stopped.hint);
    return bringIn(this.catalogue, this.mounts, projectId, file, name, folder, randomUUID, match);
  }
}

/** As far as lists go by it: the texts of timelines lie in the steps. */
function withoutSteps(plan: Plan): Plan {
  return { ...plan, steps: [] };
}

function planKey(projectId: string | null, request: PlanRequest): string {
  return JSON.stringify([projectId, request]);
}

/** A project that is removed while the list is made is not in it. */
function unlessRemoved(error: unknown): null {
  if (error instanceof Problem && error.status === 404) return null;
  throw error;
}

async function textOf(source: TimelineSource) {
  return 'text' in source ? { text: source.text, findings: [] } : decodeText(await readFile(source.file));
}
