/** The forms of what comes in. */
import Joi from 'joi';
import type { CrateSettings } from '../../core/planning/crate';
import type { PullSettings } from '../../core/planning/pull';
import type { RelinkSettings } from '../../core/planning/relink';
import type { Place } from '../../core/media/item';
import type { PlanRequest } from '../projects/make-plan';

const id = Joi.string().max(64);
const name = Joi.string().trim(false).max(200);

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

const settingsByKind = {
  relink: Joi.object<RelinkSettings>({
    scope: placeSchema.allow(null).required(),
    choices: Joi.object().pattern(Joi.string().max(80), id.allow(null)).required(),
  }),
  pull: Joi.object<PullSettings>({
    ...takes,
    folderName: name
      .allow('')
      .pattern(/^[^/\\]*$/, 'folder name without slashes')
      .invalid('.', '..')
      .required(),
  }),
  crate: Joi.object<CrateSettings>({ ...takes, crateName: name.allow('').required(), note: Joi.string().allow('').max(2000).required() }),
  restore: Joi.object({ crate: placeSchema.required(), projectName: name.allow(null, '').required() }),
  undo: Joi.object({ runId: Joi.number().integer().min(1).required() }),
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
  name: name.min(1).required(),
  rate: rateSchema.required(),
  dropFrame: Joi.boolean().default(false),
});

export const renameSchema = Joi.object<{ name: string }>({ name: name.min(1).required() });

export const newShelfSchema = Joi.object<{ path: string; name?: string }>({ path: Joi.string().max(4096).required(), name: name.min(1) });

export const newTimelineSchema = Joi.object<{ name?: string; text?: string; place?: Place }>({
  name: name,
  text: Joi.string().allow(''),
  place: placeSchema,
}).xor('text', 'place');

export const setAsideSchema = Joi.object<{ clipIds: string[]; setAside: boolean }>({
  clipIds: Joi.array().items(id).min(1).max(100_000).required(),
  setAside: Joi.boolean().required(),
});

export const rememberSchema = Joi.object<{ name: string; value: unknown }>({ name: Joi.string().max(64).required(), value: Joi.any().required() });

export const plugSchema = Joi.object<{ plugged: boolean }>({ plugged: Joi.boolean().required() });
