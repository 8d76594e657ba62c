/** The table of kinds: planners, forms, changes and texts of every kind of plan are found through it. */
import type Joi from 'joi';
import { adoptChanges } from './adopt/adopt';
import { checkCopiesKind } from './check-copies/check-copies-kind';
import { checkCrateKind } from './check-crate/check-crate-kind';
import { compareCratesKind } from './compare-crates/compare-crates-kind';
import { crateKind } from './crate/crate-kind';
import { decodeKind } from './decode/decode-kind';
import { exchangeKind } from './exchange/exchange-kind';
import { exportKind } from './export/export-kind';
import { finishKind } from './finish/finish-kind';
import { makersOf } from '../actions/makers';
import type { Makers } from '../actions/step-context';
import type { Kind } from './kind';
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
  'check-copies': checkCopiesKind,
  decode: decodeKind,
  'compare-crates': compareCratesKind,
  restore: restoreKind,
  'join-clips': joinClipsKind,
  undo: undoKind,
  export: exportKind,
  unpack: unpackKind,
};

export type PlanKind = keyof typeof TABLE;

type SettingsOf<K extends PlanKind> = (typeof TABLE)[K] extends Kind<infer Settings, infer _Detail, infer _Told> ? Settings : never;
/** What the sheet of a kind gets beside the steps. */
export type DetailOf<K extends PlanKind> = (typeof TABLE)[K] extends Kind<infer _Settings, infer _Detail, infer Told> ? Told : never;

export type PlanRequest = { [K in PlanKind]: { readonly kind: K; readonly settings: SettingsOf<K> } }[PlanKind];

type AnyKind = Omit<Kind<unknown, unknown, unknown>, 'form'> & { readonly form: Joi.ObjectSchema };

/** Their settings are told apart by their forms. */
export const KINDS: Readonly<Record<PlanKind, AnyKind>> = TABLE;

const all = Object.values(KINDS);

/** Whatever the steps of all plans need of their kinds. */
export const MAKERS: Makers = makersOf(
  [...all.map(({ changes }) => changes ?? {}), adoptChanges, homesChanges],
  all.map(({ texts }) => texts ?? {}),
);

/** Undefined for kinds of other versions, and for runs that follow from no plan. */
export function kindOf(kind: string): AnyKind | undefined {
  return kind in KINDS ? KINDS[kind as PlanKind] : undefined;
}

export function isUndoable(kind: string): boolean {
  return kindOf(kind)?.undoable ?? false;
}
