/** The forms of what comes in. */
import { SOURCE_COUNTS, type SourceCount } from '../../core/project/source-count';
import { RUN_PRIORITIES, type RunPriority } from '../catalogue/runs';
import Joi from 'joi';
import { PRESET_IDS, QUALITY_STEPS } from '../../core/rendition/presets';
import type { Recipe } from '../../core/rendition/recipe';
import { CLIP_LIST_FIELDS } from '../../core/interchange/clip-list/clip-list-types';
import { LINK_STATES } from '../../core/project/clip';
import type { Place } from '../../core/media/item';
import type { ClipQuery } from '../projects/clip-views';
import { additionsForm, idForm, nameForm, placeForm, rateForm } from '../../core/forms/atoms';
import { binPathForm } from '../../core/forms/bin-edit';
import { KINDS, type PlanRequest } from '../kinds/kinds';
import { USAGE_SORTS, type UsageRequest } from '../projects/usage-views';
import type { WindowQuery } from '../../core/lists/list-window';
import type { TimelineInput } from '../usecases/timelines';
import { windowKeys } from './window';

const requestKeys = {
  kind: Joi.string()
    .valid(...Object.keys(KINDS))
    .required(),
  settings: Joi.alternatives()
    .conditional('kind', { switch: Object.entries(KINDS).map(([kind, { form }]) => ({ is: kind, then: form })) })
    .required(),
};

export const planRequestSchema = Joi.object<PlanRequest & { projectId: string | null }>({ ...requestKeys, projectId: idForm.allow(null).required() });

export const runRequestSchema = Joi.object<PlanRequest & { projectId: string | null; digest: string }>({
  ...requestKeys,
  projectId: idForm.allow(null).required(),
  digest: Joi.string().length(64).required(),
});

export const keepPlanSchema = Joi.object<PlanRequest & { projectId: string; as: 'csv' | 'html' }>({
  ...requestKeys,
  projectId: idForm.required(),
  as: Joi.string().valid('csv', 'html').required(),
});

/** Kinds whose sheets list more than goes with them. */
export const LISTING_KINDS = Object.entries(KINDS).flatMap(([kind, { rows }]) => (rows ? [{ kind, sorts: rows.sorts }] : []));

export const planRowsSchema = Joi.object<PlanRequest & WindowQuery<string> & { projectId: string; group: string }>({
  ...requestKeys,
  kind: Joi.string()
    .valid(...LISTING_KINDS.map(({ kind }) => kind))
    .required(),
  projectId: idForm.required(),
  group: Joi.string().allow('').max(10_000).required(),
  ...windowKeys(['']),
  sort: Joi.string().max(20).default(''),
});

const timelineInput = {
  name: nameForm,
  text: Joi.string().allow(''),
  place: placeForm,
  upload: Joi.string().uuid(),
  columns: Joi.object(Object.fromEntries(CLIP_LIST_FIELDS.map((field) => [field, Joi.number().integer().min(0).max(500)]))),
  rate: rateForm,
  match: Joi.boolean(),
  scope: placeForm.allow(null),
  additions: additionsForm,
};

export const newTimelineSchema = Joi.object<TimelineInput>(timelineInput).xor('text', 'place', 'upload');
export const previewSchema = newTimelineSchema;

export const compareSchema = Joi.object<{ before: string; after: string }>({ before: idForm.required(), after: idForm.required() });

export const usageSchema = Joi.object<UsageRequest>({
  timelineIds: Joi.alternatives(Joi.valid('all'), Joi.array().items(idForm).max(10_000)).required(),
  bins: Joi.array().items(binPathForm).max(10_000).default([]),
  clipIds: Joi.array().items(idForm).max(100_000).default([]),
  countDisabled: Joi.boolean().default(false),
  parts: Joi.boolean().default(false),
  key: Joi.string().max(8192),
  but: Joi.object({ timelineId: idForm.required(), eventIndex: Joi.number().integer().required() }),
  list: Joi.string().valid('used', 'never', 'bins'),
  ...windowKeys(USAGE_SORTS),
}).oxor('key', 'list');

export const clipQuerySchema = Joi.object<{ bin: string; state: ClipQuery['state']; ids: string | null }>({
  bin: binPathForm.allow(''),
  state: Joi.string().valid('', 'offline', ...LINK_STATES),
  ids: Joi.string().allow('', null).max(65_000),
});

/** Pixels; encoders want even ones. */
const evenSide = Joi.number().integer().multiple(2).min(2).max(16_384);

export const sampleSchema = Joi.object<Pick<Recipe, 'presetId' | 'width' | 'height'> & { quality: number }>({
  presetId: Joi.string()
    .valid(...PRESET_IDS)
    .required(),
  width: evenSide.required(),
  height: evenSide.required(),
  quality: Joi.number().integer().min(QUALITY_STEPS.least).max(QUALITY_STEPS.most).required(),
});

/** How source timecode is counted: of a timeline, or of some of its events; `null`: the media decides. */
export const changeTimelineSchema = Joi.object<{ sourceCount: SourceCount | null; events?: number[] }>({
  sourceCount: Joi.string()
    .valid(...SOURCE_COUNTS)
    .allow(null)
    .required(),
  events: Joi.array().items(Joi.number().integer().min(0)).min(1).max(100_000),
});

/** Set clips aside or ask for them again; or take back how they were matched. */
export const changeClipsSchema = Joi.object<{ clipIds: string[]; setAside?: boolean; unmatch?: true; readFrom?: Place | null }>({
  clipIds: Joi.array().items(idForm).min(1).max(100_000).required(),
  setAside: Joi.boolean(),
  unmatch: Joi.valid(true),
  readFrom: placeForm.allow(null).when('clipIds', { is: Joi.array().max(1), otherwise: Joi.forbidden() }),
}).xor('setAside', 'unmatch', 'readFrom');

export const rememberSchema = Joi.object<{ name: string; value: object }>({ name: Joi.string().max(64).required(), value: Joi.object().required() });

export const automationSchema = Joi.object<{ isOn: boolean; settings: object }>({
  isOn: Joi.boolean().required(),
  settings: Joi.object().required(),
});

export const plugSchema = Joi.object<{ plugged: boolean }>({ plugged: Joi.boolean().required() });

export const runPrioritySchema = Joi.object<{ priority: RunPriority }>({
  priority: Joi.string()
    .valid(...RUN_PRIORITIES)
    .required(),
});
