/** The scheme of a sort, as it is saved or as it is being changed: nothing typed is lost, and every change can be taken back. */
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { changeWords, isSameScheme } from '../../core/scheme/scheme-changes';
import type { Scheme } from '../../core/scheme/scheme';
import type { SchemeView } from '../../server/usecases/schemes';
import { api, ApiError } from '../shared/api';
import { tellError } from '../shared/notices';
import { useStay } from '../shared/use-stay';

/** A scheme with changes that are not saved; `base` is the revision they began from. */
export interface Draft {
  readonly scheme: Scheme;
  readonly base: number;
}

/** Which scheme, and what was changed of each, by its id. */
export interface SchemeChoices {
  readonly schemeId: string;
  readonly drafts: Readonly<Record<string, Draft>>;
}

interface Changed {
  readonly is: 'changed';
  readonly before: Scheme;
  readonly after: Scheme;
  readonly at: number;
}
type Step = Changed | { readonly is: 'made' | 'removed'; readonly scheme: Scheme };

interface Steps {
  readonly done: readonly Step[];
  readonly undone: readonly Step[];
}

const MOST_STEPS = 200;
/** Letters typed one after the other are one step. */
const ONE_STEP_MS = 1_500;
const FIRST = 'own-documentary';

export function stepWords(step: Step): string {
  if (step.is === 'changed') return changeWords(step.before, step.after);
  return `${step.is === 'made' ? 'adding' : 'removing'} "${step.scheme.name}"`;
}

function withoutId({ id: _id, ...rest }: Scheme): Omit<Scheme, 'id'> {
  return rest;
}

/** `choices` null: they are not known yet. */
export function useScheme(schemes: readonly SchemeView[], choices: SchemeChoices | null, change: (part: SchemeChoices) => void) {
  const client = useQueryClient();
  const [steps, setSteps] = useStay<Steps>('steps of the schemes', { done: [], undone: [] });
  const [isSaving, setSaving] = useState(false);
  const [conflict, setConflict] = useState(false);
  // What is answered later is put to what is there then.
  const now = useRef({ choices, schemes, steps });
  now.current = { choices, schemes, steps };

  const keep = (part: SchemeChoices) => {
    now.current.choices = part;
    change(part);
  };
  const savedOf = (id: string) => now.current.schemes.find(({ scheme }) => scheme.id === id) ?? null;
  const draftOf = (id: string): Draft | null => now.current.choices?.drafts[id] ?? null;
  const setDraft = (id: string, draft: Draft | null, schemeId = now.current.choices?.schemeId ?? FIRST) => {
    const { [id]: _old, ...others } = now.current.choices?.drafts ?? {};
    keep({ schemeId, drafts: draft ? { ...others, [id]: draft } : others });
  };
  /** Puts a content into the hand; what equals the saved one is no change. */
  const hold = (scheme: Scheme) => {
    const saved = savedOf(scheme.id);
    const base = draftOf(scheme.id)?.base ?? saved?.revision ?? 0;
    setDraft(scheme.id, saved && isSameScheme(saved.scheme, scheme) ? null : { scheme, base }, scheme.id);
  };
  const putSteps = (next: Steps) => {
    now.current.steps = next;
    setSteps(next);
  };
  const did = (step: Step) => {
    const { done } = now.current.steps;
    const last = done.at(-1);
    const next = last && isTypedOn(last, step) ? [...done.slice(0, -1), { ...step, before: last.before }] : [...done, step];
    putSteps({ done: next.slice(-MOST_STEPS), undone: [] });
  };
  const renew = () => client.invalidateQueries({ queryKey: ['schemes'] });
  const putSaved = (made: SchemeView) => {
    const others = now.current.schemes.filter(({ scheme }) => scheme.id !== made.scheme.id);
    now.current.schemes = [...others, made];
    client.setQueryData<SchemeView[]>(['schemes'], (old) =>
      old?.some(({ scheme }) => scheme.id === made.scheme.id)
        ? old.map((own) => (own.scheme.id === made.scheme.id ? made : own))
        : [...(old ?? []), made],
    );
    void renew();
  };
  const attempt = async (work: () => Promise<unknown>): Promise<boolean> => {
    try {
      await work();
      return true;
    } catch (error) {
      tellError(error);
      void renew();
      return false;
    }
  };
  const add = (made: SchemeView) => {
    putSaved(made);
    did({ is: 'made', scheme: made.scheme });
    keep({ drafts: now.current.choices?.drafts ?? {}, schemeId: made.scheme.id });
  };
  const putBack = async (scheme: Scheme) => {
    putSaved(await api.put(`schemes/${scheme.id}`, { ...withoutId(scheme), revision: 0 }));
    setDraft(scheme.id, null, scheme.id);
  };
  const takeAway = async (id: string) => {
    const saved = savedOf(id);
    if (saved)
      await api.remove(`schemes/${id}?revision=${saved.revision}`).catch((error: unknown) => {
        // Somebody was there before.
        if (!(error instanceof ApiError && error.status === 404)) throw error;
      });
    client.setQueryData<SchemeView[]>(['schemes'], (old) => old?.filter(({ scheme }) => scheme.id !== id));
    now.current.schemes = now.current.schemes.filter(({ scheme }) => scheme.id !== id);
    setDraft(id, null, FIRST);
    void renew();
  };

  const chosen = choices?.schemeId ?? FIRST;
  const draft = choices?.drafts[chosen] ?? null;
  const found = schemes.find(({ scheme }) => scheme.id === chosen) ?? null;
  // One that was removed elsewhere stays in hand while it holds changes.
  const saved = found ?? (draft || schemes.length === 0 ? null : schemes[0]!);
  const scheme = draft?.scheme ?? saved?.scheme ?? null;

  const save = async (over?: number): Promise<void> => {
    const sent = draftOf(chosen);
    if (!sent || isSaving) return;
    setSaving(true);
    try {
      const made = await api.put(`schemes/${chosen}`, { ...withoutId(sent.scheme), revision: over ?? sent.base });
      putSaved(made);
      // What was typed meanwhile is there still, and began from what is saved now.
      const later = draftOf(chosen);
      if (later) setDraft(chosen, isSameScheme(later.scheme, made.scheme) ? null : { scheme: later.scheme, base: made.revision });
      setConflict(false);
    } catch (error) {
      if (error instanceof ApiError && (error.code === 'scheme-changed' || error.status === 404)) {
        await renew();
        setConflict(true);
      } else tellError(error);
    } finally {
      setSaving(false);
    }
  };
  const back = async (): Promise<void> => {
    const { done, undone } = now.current.steps;
    const step = done.at(-1);
    if (!step) return;
    putSteps({ done: done.slice(0, -1), undone: [...undone, step] });
    const ok = await attempt(async () =>
      step.is === 'changed' ? hold(step.before) : step.is === 'made' ? takeAway(step.scheme.id) : putBack(step.scheme),
    );
    if (!ok) putSteps({ done, undone });
  };
  const again = async (): Promise<void> => {
    const { done, undone } = now.current.steps;
    const step = undone.at(-1);
    if (!step) return;
    putSteps({ done: [...done, step], undone: undone.slice(0, -1) });
    const ok = await attempt(async () =>
      step.is === 'changed' ? hold(step.after) : step.is === 'made' ? putBack(step.scheme) : takeAway(step.scheme.id),
    );
    if (!ok) putSteps({ done, undone });
  };
  const replaceDraft = (next: Scheme) => {
    if (!scheme || isSameScheme(scheme, next)) return;
    did({ is: 'changed', before: scheme, after: next, at: Date.now() });
    hold(next);
  };
  return {
    scheme,
    saved: found,
    draft,
    /** Whether it is the house's own, and whether it holds changes that are not saved. */
    isOwn: saved?.isOwn ?? draft !== null,
    isChanged: draft !== null,
    isSaving,
    /** It was saved, or removed, elsewhere since the changes in hand began. */
    isBehind: draft !== null && schemes.length > 0 && draft.base !== (found?.revision ?? 0),
    conflict: { isOpen: conflict, open: () => setConflict(true), close: () => setConflict(false) },
    choose: (schemeId: string) => keep({ schemeId, drafts: now.current.choices?.drafts ?? {} }),
    edit: replaceDraft,
    discard: () => found && (setDraft(chosen, { scheme: draft!.scheme, base: found.revision }), replaceDraft(found.scheme)),
    letGo: () => draft && (did({ is: 'removed', scheme: draft.scheme }), setDraft(chosen, null, FIRST)),
    save,
    duplicate: (): Promise<boolean> =>
      attempt(async () => {
        if (scheme) add(await api.post('schemes', { ...withoutId(scheme), name: `${scheme.name} of the house` }));
      }),
    /** The changes in hand become a scheme of their own; the one they began from stays as it is saved. */
    saveApart: (): Promise<boolean> =>
      attempt(async () => {
        if (!draft) return;
        const made = await api.post('schemes', { ...withoutId(draft.scheme), name: `${draft.scheme.name} (mine)`.slice(0, 200) });
        setDraft(chosen, null);
        add(made);
        setConflict(false);
      }),
    bring: (file: File): Promise<boolean> => attempt(async () => add(await bringIn(file))),
    remove: (): Promise<boolean> =>
      attempt(async () => {
        if (!scheme) return;
        const step: Step = { is: 'removed', scheme };
        await takeAway(scheme.id);
        did(step);
      }),
    undo: { last: steps.done.at(-1) ?? null, next: steps.undone.at(-1) ?? null, back, again },
  };
}

/** Whether a step goes on with the name that the last one typed. */
function isTypedOn(last: Step, step: Step): last is Changed {
  if (last.is !== 'changed' || step.is !== 'changed' || last.after.id !== step.before.id || step.at - last.at > ONE_STEP_MS) return false;
  const [before, now] = [changeWords(last.before, last.after), changeWords(step.before, step.after)].map((words) => words.replace(/".*"/, ''));
  return before === now && before!.startsWith('the name');
}

async function bringIn(file: File): Promise<SchemeView> {
  let document: unknown;
  try {
    document = JSON.parse(await file.text());
  } catch {
    throw new ApiError(
      0,
      'bad-file',
      `"${file.name}" cannot be read as a scheme: it is no JSON, or not all of it is there.`,
      'Save the scheme as a file again where it came from.',
    );
  }
  return api.postTo<SchemeView>('schemes/import', document).catch((error: unknown) => {
    if (!(error instanceof ApiError) || error.code !== 'bad-body') throw error;
    throw new ApiError(
      error.status,
      error.code,
      `"${file.name}" is not a scheme that can be read: ${error.message}`,
      'Save the scheme as a file again where it came from.',
    );
  });
}

export type SchemeOf = ReturnType<typeof useScheme>;
