/** A text in a step of a plan. A timeline's is megabytes long, and stands in the step that writes it and in the one that brings it in. */

/** A long text that is kept apart from its step, by its SHA-256 as lower-case hexadecimal digits. */
export interface KeptText {
  readonly kept: string;
}

/** A text, or where it is kept. */
export type PlanText = string | KeptText;

/** Takes a text over from the plan that it was made for; many of them together may be more than there is room for. */
export type TextKeeper = (text: string) => PlanText;

export const asItIs: TextKeeper = (text) => text;
