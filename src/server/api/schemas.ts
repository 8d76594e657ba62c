/** The forms of what comes in. */
import Joi from 'joi';
import { CLIP_LIST_FIELDS, type ColumnMap } from '../../core/interchange/clip-list/clip-list-types';
import type { CrateSettings } from '../../core/planning/crate';
import { EXPORT_FORMATS, type ExportSettings } from '../../core/planning/export';
import type { UndoSettings } from '../../core/planning/undo';
import type { UnpackSettings } from '../../core/planning/unpack';
import type { ClipWords } from '../../core/project/bins';
import { CLIP_COLOURS, LINK_STATES } from '../../core/project/clip';
import type { PullSettings } from '../../core/planning/pull';
import type { RelinkSettings } from '../../core/planning/relink';
import type { Place } from '../../core/media/item';
import type { ClipQuery } from '../projects/clip-views';
import type { PlanRequest } from '../projects/make-plan';
import { USAGE_SORTS, type UsageRequest } from '../projects/usage-views';
import type { WindowQuery } from '../list-window';
import { windowKeys } from './window';

const id = Joi.string().max(64);
const name = Joi.string().trim(false).max(200);
/** What is to be called something. */
const realName = name.pattern(/\S/, 'name of more than blanks');

export const placeSchema = Joi.object<Place>({ shelfId: id.required(), path: Joi.string().allow('').max(4096).required() });

export const rateSchema = Joi.object({
  num: Joi.number().integer().min(1).max(1_000_000).required(),
  den: Joi.number().integer().min(1).max(1_000_000).required(),
});

const frames = Joi.number().integer().min(0).max(1_000_000);

const takes = {
  timelineIds: Joi.array().items(id).max(10_000).required(),
  media: Joi.string().valid('parts', 'whole').required(),
  headFrames: frames.required(),
  tailFrames: frames.required(),
  joinGapFrames: frames.required(),
  countDisabled: Joi.boolean().required(),
  destination: placeSchema.allow(null).required(),
};

const folderName = name
  .allow('')
  .pattern(/^[^/\\]*$/, 'folder name without slashes')
  .invalid('.', '..')
  .required();

export const settingsByKind = {
  relink: Joi.object<RelinkSettings>({
    scope: placeSchema.allow(null).required(),
    choices: Joi.object().pattern(Joi.string().max(80), id.allow(null)).required(),
    reasons: Joi.object().pattern(Joi.string().max(10_000), Joi.string().valid('take', 'leave')),
  }),
  pull: Joi.object<PullSettings>({
    ...takes,
    folderName,
  }),
  crate: Joi.object<CrateSettings>({ ...takes, crateName: name.allow('').required(), note: Joi.string().allow('').max(2000).required() }),
  restore: Joi.object({ crate: placeSchema.required(), projectName: name.allow(null, '').required() }),
  export: Joi.object<ExportSettings>({
    timelineIds: Joi.array().items(id).max(10_000).required(),
    format: Joi.string()
      .valid(...EXPORT_FORMATS)
      .required(),
    destination: placeSchema.allow(null).required(),
    folderName,
  }),
  unpack: Joi.object<UnpackSettings>({ bundle: placeSchema.required(), destination: placeSchema.allow(null).required(), folderName }),
  undo: Joi.object<UndoSettings>({ runId: Joi.number().integer().min(1).required(), confirmed: Joi.boolean().default(false) }),
};

const requestKeys = {
  kind: Joi.string()
    .valid(...Object.keys(settingsByKind))
    .required(),
  settings: Joi.alternatives()
    .conditional('kind', { switch: Object.entries(settingsByKind).map(([kind, then]) => ({ is: kind, then })) })
    .required(),
};

export const planRequestSchema = Joi.object<PlanRequest & { projectId: string | null }>({ ...requestKeys, projectId: id.allow(null).required() });

export const runRequestSchema = Joi.object<PlanRequest & { projectId: string | null; digest: string }>({
  ...requestKeys,
  projectId: id.allow(null).required(),
  digest: Joi.string().length(64).required(),
});

export const newProjectSchema = Joi.object<{ name: string; rate: { num: number; den: number }; dropFrame: boolean }>({
  name: realName.required(),
  rate: rateSchema.required(),
  dropFrame: Joi.boolean().default(false),
});

export const renameSchema = Joi.object<{ name: string }>({ name: realName.required() });

export const newShelfSchema = Joi.object<{ path: string; name?: string; ownIdentity: boolean }>({
  path: Joi.string().max(4096).required(),
  name: realName,
  ownIdentity: Joi.boolean().default(false),
});

export const planRowsSchema = Joi.object<WindowQuery<'name'> & { projectId: string; settings: RelinkSettings; reason: string }>({
  projectId: id.required(),
  settings: settingsByKind.relink.required(),
  reason: Joi.string().max(10_000).required(),
  ...windowKeys(['name']),
});

export interface TimelineInput {
  readonly name?: string;
  readonly text?: string;
  readonly place?: Place;
  readonly upload?: string;
  readonly columns?: ColumnMap;
  /** Rate of a list, which states none; the project's where it is left out. */
  readonly rate?: { num: number; den: number };
}

const timelineInput = {
  name: name,
  text: Joi.string().allow(''),
  place: placeSchema,
  upload: Joi.string().uuid(),
  columns: Joi.object(Object.fromEntries(CLIP_LIST_FIELDS.map((field) => [field, Joi.number().integer().min(0).max(500)]))),
  rate: rateSchema,
};

export const newTimelineSchema = Joi.object<TimelineInput>(timelineInput).xor('text', 'place', 'upload');
export const previewSchema = newTimelineSchema;

export const compareSchema = Joi.object<{ before: string; after: string }>({ before: id.required(), after: id.required() });

const binPath = Joi.string().allow('').max(2000);
const colour = Joi.string().valid('', ...CLIP_COLOURS);
const note = Joi.string().allow('').max(10_000);
const clipIds = Joi.array().items(id).min(1).max(100_000).required();

export type BinEdit =
  | { readonly do: 'make-bin'; readonly parent: string; readonly name: string }
  | { readonly do: 'rename-bin'; readonly path: string; readonly name: string }
  | { readonly do: 'move-bin'; readonly path: string; readonly parent: string }
  | { readonly do: 'dissolve-bin'; readonly path: string }
  | { readonly do: 'change-bin'; readonly path: string; readonly change: { readonly colour?: string; readonly note?: string } }
  | { readonly do: 'change-clips'; readonly clipIds: readonly string[]; readonly change: ClipWords }
  | { readonly do: 'add-items'; readonly itemIds: readonly string[]; readonly binPath: string }
  | { readonly do: 'tidy'; readonly bin: string };

const editsByKind = {
  'make-bin': { parent: binPath.required(), name: realName.required() },
  'rename-bin': { path: binPath.required(), name: realName.required() },
  'move-bin': { path: binPath.required(), parent: binPath.required() },
  'dissolve-bin': { path: binPath.required() },
  'change-bin': { path: binPath.required(), change: Joi.object({ colour, note }).min(1).required() },
  'change-clips': {
    clipIds,
    change: Joi.object({ name: realName, note, colour, binPath, conform: Joi.string().valid('by-time', 'by-frame') })
      .min(1)
      .required(),
  },
  'add-items': { itemIds: clipIds, binPath: binPath.required() },
  tidy: { bin: binPath.required() },
};

export const binEditSchema: Joi.AlternativesSchema<BinEdit> = Joi.alternatives<BinEdit>().conditional('.do', {
  switch: Object.entries(editsByKind).map(([kind, keys]) => ({ is: kind, then: Joi.object({ do: Joi.string().required(), ...keys }) })),
  otherwise: Joi.object({
    do: Joi.string()
      .valid(...Object.keys(editsByKind))
      .required(),
  }),
});

export const usageSchema = Joi.object<UsageRequest>({
  timelineIds: Joi.alternatives(Joi.valid('all'), Joi.array().items(id).max(10_000)).required(),
  bins: Joi.array().items(binPath).max(10_000).default([]),
  clipIds: Joi.array().items(id).max(100_000).default([]),
  countDisabled: Joi.boolean().default(false),
  key: Joi.string().max(8192),
  but: Joi.object({ timelineId: id.required(), eventIndex: Joi.number().integer().required() }),
  list: Joi.string().valid('used', 'never', 'bins'),
  ...windowKeys(USAGE_SORTS),
}).oxor('key', 'list');

export const clipQuerySchema = Joi.object<{ bin: string; state: ClipQuery['state']; ids: string | null }>({
  bin: binPath.allow(''),
  state: Joi.string().valid('', 'offline', ...LINK_STATES),
  ids: Joi.string().allow('', null).max(65_000),
});

export const setAsideSchema = Joi.object<{ clipIds: string[]; setAside: boolean }>({
  clipIds: Joi.array().items(id).min(1).max(100_000).required(),
  setAside: Joi.boolean().required(),
});

export const rememberSchema = Joi.object<{ name: string; value: unknown }>({ name: Joi.string().max(64).required(), value: Joi.any().required() });

export const plugSchema = Joi.object<{ plugged: boolean }>({ plugged: Joi.boolean().required() });
