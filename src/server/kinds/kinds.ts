/** The table of kinds: planners, forms, changes and texts of every kind of plan are found through it. */
import type { CatalogueChange } from '../../core/planning/plan/step';
import { adoptChanges } from './adopt/adopt';
import { checkCrateKind } from './check-crate/check-crate-kind';
import { compareCratesKind } from './compare-crates/compare-crates-kind';
import { crateKind } from './crate/crate-kind';
import { decodeKind } from './decode/decode-kind';
import { exchangeKind } from './exchange/exchange-kind';
import { exportKind } from './export/export-kind';
import { finishKind } from './finish/finish-kind';
import type { ChangeMaker, Kind, TextMaker } from './kind';
import { generationsKind } from './generations/generations-kind';
import { homesChanges } from './homes-change';
import { joinClipsKind } from './join-clips/join-clips-kind';
import { linkProxiesKind } from './link-proxies/link-proxies-kind';
import { proxiesKind } from './proxies/proxies-kind';
import { pullKind } from './pull/pull-kind';
import { relinkKind } from './relink/relink-kind';
import { removeProxiesKind } from './remove-proxies/remove-proxies-kind';
import { restoreKind } from './restore/restore-kind';
import { sortKind } from './sort/sort-kind';
import { takeAlongKind } from './take-along/take-along-kind';
import { undoKind } from './undo/undo-kind';
import { unpackKind } from './unpack/unpack-kind';

const TABLE = {
  sort: sortKind,
  relink: relinkKind,
  pull: pullKind,
  proxies: proxiesKind,
  'link-proxies': linkProxiesKind,
  'remove-proxies': removeProxiesKind,
  'take-along': takeAlongKind,
  exchange: exchangeKind,
  generations: generationsKind,
  finish: finishKind,
  crate: crateKind,
  'check-crate': checkCrateKind,
  decode: decodeKind,
  'compare-crates': compareCratesKind,
  restore: restoreKind,
  'join-clips': joinClipsKind,
  undo: undoKind,
  export: exportKind,
  unpack: unpackKind,
};

export type PlanKind = keyof typeof TABLE;

type SettingsOf<K extends PlanKind> = (typeof TABLE)[K] extends Kind<infer Settings> ? Settings : never;

export type PlanRequest = { [K in PlanKind]: { readonly kind: K; readonly settings: SettingsOf<K> } }[PlanKind];

/** Their settings are told apart by their forms. */
export const KINDS = TABLE as unknown as Readonly<Record<PlanKind, Kind<unknown>>>;

const makers = new Map<string, ChangeMaker<CatalogueChange>>();
const texts = new Map<string, TextMaker<unknown>>();
for (const kind of Object.values(KINDS)) {
  for (const [type, maker] of Object.entries(kind.changes ?? {})) makers.set(type, maker as ChangeMaker<CatalogueChange>);
  for (const [what, maker] of Object.entries(kind.texts ?? {})) texts.set(what, maker as TextMaker<unknown>);
}
for (const [type, maker] of Object.entries({ ...adoptChanges, ...homesChanges })) makers.set(type, maker as unknown as ChangeMaker<CatalogueChange>);

/** Journals of later versions may hold what this one cannot do. */
function known<Maker>(maker: Maker | undefined, name: string): Maker {
  if (maker === undefined) throw new Error(`This version of Mill Shelf cannot do "${name}".`);
  return maker;
}

export function changeMaker(type: string): ChangeMaker<CatalogueChange> {
  return known(makers.get(type), type);
}

/** A change as the API tells it. */
export function changeToTell(change: CatalogueChange): CatalogueChange {
  return makers.get(change.type)?.toTell?.(change) ?? change;
}

/** Whether a change of this type stands on no other step, and no other on it. */
export function standsAlone(type: string): boolean {
  return makers.get(type)?.standsAlone === true;
}

export function textMaker(what: string): TextMaker<unknown> {
  return known(texts.get(what), what);
}

export function isUndoable(kind: string): boolean {
  return kind in KINDS && KINDS[kind as PlanKind].undoable;
}
