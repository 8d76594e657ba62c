import Joi from 'joi';

/** All clips of the project that are one source. */
export type JoinClipsSettings = Readonly<Record<string, never>>;

export const joinClipsForm = Joi.object<JoinClipsSettings>({});
