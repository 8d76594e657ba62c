import { randomUUID } from 'node:crypto';
import { dirname } from 'node:path';
import { fileName, type MediaFacts, type Place } from '../../../core/media/item';
import { planLinkProxies, type FoundDetail, type FoundRow, type RenditionFound } from '../../../core/planning/link-proxies/link-proxies';
import { linkProxiesForm, type LinkProxiesSettings } from '../../../core/planning/link-proxies/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import { precondition } from '../../../core/planning/plan/step';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { expectedFrom } from '../../../core/project/clip';
import type { Made } from '../../../core/rendition/recipe';
import { rate } from '../../../core/time/rate';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { compareFound, RenditionUnproven } from '../../media/prove-rendition';
import { StepFailure } from '../../errors/explain-error';
import { checkPrecondition } from '../../actions/made/precondition';
import type { ChangeMaker, StepContext } from '../../actions/step-context';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';

const renditionFound: ChangeMaker<RenditionFound> = {
  onDisk: { at: ({ place }) => [place], work: mustBeFound },
  make({ kind, place, burnIn, clips, source }, { catalogue, runId }, { mustHold }) {
    const item = catalogue.items.at(place);
    if (!item || (mustHold?.fingerprint && item.fingerprint !== mustHold.fingerprint))
      throw new StepFailure(`${fileName(place.path)} is not what the plan saw any more. Look again.`);
    const sourcePrint = source ? (catalogue.items.at(source.place)?.fingerprint ?? null) : null;
    const made: Made = { presetId: null, burnIn, sourcePrint, at: new Date().toISOString() };
    const renditionIds = clips.map(({ clipId, sound }) => {
      const id = randomUUID();
      const picture = { place, url: '', expected: expectedFrom(item, fileName(place.path)) };
      catalogue.clips.addRendition(clipId, { id, kind, links: [picture, ...sound], made, cameBy: runId });
      return id;
    });
    return {
      bytes: 0,
      checked: source ? 'frames, rate, timecode; five pictures compared' : 'frames, rate, timecode',
      back: { type: 'renditions-away', renditionIds },
    };
  },
};

/** Throws StepFailure where its pictures are not those of its source. */
async function mustBeFound({ place, facts, source, isChosen }: RenditionFound, context: StepContext): Promise<void> {
  const path = pathOf(place, facts, context);
  const item = context.catalogue.items.at(place);
  if (item && !facts.sequence) await checkPrecondition(path, precondition(item), fileName(place.path));
  if (!source) return;
  try {
    const origin = { path: pathOf(source.place, source.facts, context), facts: source.facts };
    const told = await compareFound(origin, { path, facts }, source.facts.rate ?? facts.rate ?? rate(25), context.signal);
    if (told === 0 && !isChosen)
      throw new StepFailure(
        `${fileName(place.path)} is not linked: its pictures are too dark, too plain or too still to tell. Choose it yourself if it is the one.`,
      );
  } catch (error) {
    if (error instanceof RenditionUnproven) throw new StepFailure(`${fileName(place.path)} is not linked: ${error.message}.`);
    throw error;
  }
}

function pathOf(place: Place, facts: MediaFacts, { places }: StepContext): string {
  const path = places.resolve(place);
  return facts.sequence ? dirname(path) : path;
}

export const linkProxiesKind = defineKind<LinkProxiesSettings, FoundDetail>()({
  form: linkProxiesForm,
  undoable: true,
  isKept: true,
  changes: { 'rendition-found': renditionFound },
  rows: { sorts: ['name'], of: foundWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, timelinesNamed(settings.scope));
    const items = settings.place ? asked.catalogue.sort.itemsBelow(settings.place) : [];
    return planLinkProxies(snapshot, settings, items, asked.catalogue.twins());
  },
});

const GROUPS: Readonly<Record<string, (row: FoundRow) => boolean>> = {
  '': () => true,
  linked: ({ fate }) => fate === 'linked',
  choose: ({ fate }) => fate === 'offered',
  unfit: ({ fate }) => fate === 'unfit',
  none: ({ fate }) => fate === 'none',
};

function foundWindow(plan: Plan<FoundDetail>, _settings: LinkProxiesSettings, group: string, query: WindowQuery<'name'>): Window<FoundRow> {
  const test = Object.hasOwn(GROUPS, group) ? GROUPS[group] : undefined;
  if (!test) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter(test)
    .filter(({ name, candidates }) => fits(words, `${name} ${candidates.map(({ place }) => place.path).join(' ')}`));
  return cutInOrder(rows, query);
}
