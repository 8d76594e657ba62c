import { chosenAdditions } from '../../../core/matching/match-all';
import { stockOf } from '../../../core/planning/plan/stock-view';
import { findOffline, type Offline } from '../../../core/planning/relink/offline';
import { planRelink, wantedByRelink, type Found, type RelinkDetail } from '../../../core/planning/relink/relink';
import { relinkForm, type RelinkSettings } from '../../../core/planning/relink/settings';
import type { FoundByTells } from '../../catalogue/tell-finder';
import { candidatesFor } from '../../projects/match-sources';
import { lookAt, narrowedToUses } from '../../projects/snapshot';
import { defineKind } from '../kind';
import { PlanRequestError } from '../../errors/problem';
import { noProject } from '../project-snapshot';
import { relinkChange } from './relink-change';
import { firstRows, reasonWindow } from './relink-rows';

const NO_SHARERS: Found['sharers'] = new Map();

function foundOf(candidates: FoundByTells | undefined): Found | undefined {
  return candidates && { ...candidates, sharers: NO_SHARERS };
}

/** A choice for a clip that came back meanwhile says nothing any more; one for no clip of the project is a mistake. Throws PlanRequestError. */
function mustBeKnown({ choices }: RelinkSettings, { links, gone }: Offline, clipIds: readonly string[]): void {
  const offline = new Set([...links, ...gone].map(({ key }) => key));
  const ids = new Set(clipIds);
  const unknown = Object.keys(choices).find((key) => !offline.has(key) && !ids.has(key.split(' ')[0]!));
  if (unknown !== undefined)
    throw new PlanRequestError(`"${unknown}" in the choices is no clip of this project. Choices go by the key of a row, as the plan names them.`);
}

export const relinkKind = defineKind<RelinkSettings, RelinkDetail>()({
  form: relinkForm,
  undoable: true,
  changes: { relink: relinkChange },
  isKept: true,
  rows: { sorts: ['name'], of: (plan, _, group, query) => reasonWindow(plan, group, query) },
  toTell: (plan) => firstRows(plan.detail),
  /** Reads the clips that are not there, and what may be they. */
  async plan({ catalogue, mounts, projectId }, settings) {
    if (projectId === null) throw noProject();
    const plan = await lookAt(catalogue, mounts, projectId, (whole) => {
      const attached = whole.shelves.filter((shelf) => shelf.attached).map((shelf) => shelf.id);
      const snapshot = narrowedToUses(catalogue, whole, catalogue.clips.mayBeAway(projectId, attached));
      const offline = findOffline(snapshot);
      mustBeKnown(settings, offline, catalogue.clips.ids(projectId));
      const finder = catalogue.finder(attached, settings.scope);
      const wanted = wantedByRelink(offline);
      const told = wanted.flatMap(({ key, told: own }) => (own ? [{ key, told: own }] : []));
      // What was never linked is looked for on shelves that are unplugged too: a file there may be the one.
      const tellFinder = catalogue.tellFinder(whole.shelves.map(({ id }) => id), settings.scope); // prettier-ignore
      const stock = stockOf(snapshot);
      const toldFound = candidatesFor(catalogue, tellFinder, told, chosenAdditions(settings.additions), (id) => stock.shelfName(id));
      const linked = new Map(wanted.flatMap((own) => (own.told ? [] : [[own.key, own] as const])));
      const get = (key: string) => {
        const own = linked.get(key);
        return own ? finder.find(own) : foundOf(toldFound.get(key));
      };
      return planRelink(snapshot, settings, offline, { get });
    });
    if (!plan) throw noProject();
    return plan;
  },
});
