/** Steps without their long texts. */
import type { KeptText, PlanText, TextKeeper } from './plan-text';
import type { Step } from './step';

/** From so many characters on a text is kept apart. */
export const LONG_TEXT = 16_384;

/** Keeps long texts apart, and leaves the others as they are. */
export function longTexts(keep: (text: string) => KeptText): TextKeeper {
  return (text) => (text.length >= LONG_TEXT ? keep(text) : text);
}

/** The step with its long texts kept apart; the same step where it has none. `keep` is told each of them, maybe several times. */
export function withTextsApart(step: Step, keep: (text: string) => KeptText): Step {
  const apart = <Holder extends { readonly text: PlanText }>(holder: Holder): Holder =>
    typeof holder.text === 'string' && holder.text.length >= LONG_TEXT ? { ...holder, text: keep(holder.text) } : holder;
  if (step.action === 'write') {
    const { content } = step;
    if (content.type === 'made') return step;
    if (content.type !== 'zip') return { ...step, content: apart(content) };
    return { ...step, content: { ...content, entries: content.entries.map((entry) => ('text' in entry ? apart(entry) : entry)) } };
  }
  if (step.action !== 'link' || !bringsTimelines(step.change)) return step;
  return { ...step, change: { ...step.change, timelines: step.change.timelines.map(apart) } as typeof step.change };
}

/** Changes that bring timelines in hold their texts. */
function bringsTimelines(change: object): change is { readonly timelines: readonly { readonly text: PlanText }[] } {
  return (
    'timelines' in change &&
    Array.isArray(change.timelines) &&
    change.timelines.every((one: unknown) => typeof one === 'object' && one !== null && 'text' in one)
  );
}
