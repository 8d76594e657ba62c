import Joi from 'joi';
import { timelineIdsForm } from '../../forms/atoms';

export interface UsedMediaSettings {
  readonly timelineIds: readonly string[];
  /** `parts`: used frames with handles; `whole`: every used file as it is. */
  readonly media: 'parts' | 'whole';
  /** Frames at the project's rate. */
  readonly headFrames: number;
  readonly tailFrames: number;
  /** Gaps between parts up to this many project frames are kept. */
  readonly joinGapFrames: number;
  readonly countDisabled: boolean;
}

/** Of a handle, and of a gap that is joined. */
export const MOST_FRAMES = 1_000_000;

const frames = Joi.number().integer().min(0).max(MOST_FRAMES).messages({
  'number.base': 'Type a number of frames.',
  'number.integer': 'Handles are whole frames.',
  'number.min': 'Handles cannot be shorter than nothing.',
  'number.max': 'Handles have at most {#limit} frames.',
});

export const usedMediaKeys = {
  timelineIds: timelineIdsForm.required(),
  media: Joi.string().valid('parts', 'whole').required(),
  headFrames: frames.required(),
  tailFrames: frames.required(),
  joinGapFrames: frames.required(),
  countDisabled: Joi.boolean().required(),
};

/** What makes used media take less room, for the end of "Choose another shelf". */
export function lessRoom({ media, headFrames, tailFrames }: UsedMediaSettings): string {
  if (media === 'whole') return ', the used parts alone or fewer timelines';
  return headFrames + tailFrames > 0 ? ', shorter handles or fewer timelines' : ' or fewer timelines';
}
