import Joi from 'joi';
import { additionsForm, idForm, placeForm } from '../../forms/atoms';
import type { Place } from '../../media/item';

/** One word for all clips of a reason: take what was found, take what stands under the linked name now, or leave them. */
export type ReasonDecision = 'take' | 'take-new' | 'leave';

export interface RelinkSettings {
  /** Where to look: a shelf or a folder on it; null looks on every attached shelf. */
  readonly scope: Place | null;
  /** The user's own choice by the key of the row: an item's id, or null to leave the clip as it is. Unnamed rows take what is proven. */
  readonly choices: Readonly<Record<string, string | null>>;
  /** And by the key of a reason, for its clips that no choice names. */
  readonly reasons?: Readonly<Record<string, ReasonDecision>>;
  /** What systems add to the names of files, one rule each (core/matching/additions.ts); the usual rules where it is left out. */
  readonly additions?: readonly string[];
}

export const relinkForm = Joi.object<RelinkSettings>({
  scope: placeForm.allow(null).required(),
  choices: Joi.object().pattern(Joi.string().max(80), idForm.allow(null)).required(),
  reasons: Joi.object().pattern(Joi.string().max(10_000), Joi.string().valid('take', 'take-new', 'leave')),
  additions: additionsForm,
});
