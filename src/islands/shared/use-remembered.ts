/** Settings of a stage as the user left them, kept by project. */
import { useQueryClient } from '@tanstack/react-query';
import dayjs from 'dayjs';
import { useCallback, useMemo, useState } from 'react';
import { api } from './api';
import { tellError } from './notices';
import { renewed, type Kept } from './renewed';
import { projectKey, useProject, type ProjectWithChoices } from './questions';

/** What waits to be saved while something is being saved: one after the other, in the order in which it was chosen. */
const waiting = new Map<string, { readonly path: string; readonly name: string; readonly value: object }>();
let sending: Promise<void> | null = null;

/** What was chosen on this page, by project and name: it holds here, whatever an answer says that was on its way meanwhile. */
const chosenHere = new Map<string, object>();

function keyOf(projectId: string, name: string): string {
  return `${projectId} ${name}`;
}

/** Chooses for another stage; answers when it was sent, after all that was chosen before. */
export async function remember(projectId: string, name: string, value: object): Promise<void> {
  save(projectId, name, value);
  await sendAll();
}

function save(projectId: string, name: string, value: object): void {
  const path = `projects/${projectId}/remember`;
  const key = keyOf(projectId, name);
  chosenHere.set(key, { ...chosenHere.get(key), ...value });
  waiting.set(key, { path, name, value: { ...waiting.get(key)?.value, ...value } });
  void sendAll();
}

function sendAll(): Promise<void> {
  return (sending ??= sendEach().finally(() => (sending = null)));
}

async function sendEach(): Promise<void> {
  for (let [next] = waiting; next; [next] = waiting) {
    const [key, { path, name, value }] = next;
    waiting.delete(key);
    try {
      await api.leave(path, { name, value });
    } catch (error) {
      tellError(error instanceof Error ? new Error(`Your choice is not kept for the next time. ${error.message}`) : error);
    }
  }
}
if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    for (const { path, name, value } of waiting.values()) void api.leave(path, { name, value });
    waiting.clear();
  });

/**
 * Null until they are known. What was not chosen is as `initial` says, made anew each time; a day that stands in a kept
 * name because it was that day when it was chosen is today's.
 */
export function useRemembered<T extends object>(
  projectId: string,
  name: string,
  initial: (project: ProjectWithChoices) => T,
): [T | null, (change: Partial<T>) => void] {
  const client = useQueryClient();
  const { data: project } = useProject(projectId);
  // As this page loaded them: what another page chooses meanwhile does not change this one in use.
  const [begun, begin] = useState<{ readonly of: string; readonly kept: Kept; readonly initial: T } | null>(null);
  const of = keyOf(projectId, name);
  if (project && begun?.of !== of)
    begin({
      of,
      kept: renewed({ ...(project.remembered[name] as Kept | undefined), ...chosenHere.get(of) }, dayjs().format('YYYY-MM-DD')),
      initial: initial(project),
    });
  const [chosen, choose] = useState<{ readonly of: string; readonly change: Partial<T> }>({ of, change: {} });
  const own = chosen.of === of ? chosen.change : null;
  const value = useMemo(() => (begun?.of === of ? { ...begun.initial, ...begun.kept, ...own } : null), [begun, own, of]);
  const change = useCallback(
    (part: Partial<T>) => {
      choose((old) => ({ of, change: { ...(old.of === of ? old.change : {}), ...part } }));
      const kept = { ...part, ...(holdsDay(part) ? { on: dayjs().format('YYYY-MM-DD') } : {}) };
      // The next to ask, on this page, gets it too.
      client.setQueryData<ProjectWithChoices>(projectKey(projectId), (old) =>
        old ? { ...old, remembered: { ...old.remembered, [name]: { ...(old.remembered[name] as object | undefined), ...kept } } } : old,
      );
      save(projectId, name, kept);
    },
    [client, projectId, name, of],
  );
  return [value, change];
}

function holdsDay(part: object): boolean {
  return Object.values(part).some((value) => typeof value === 'string' && /\d{4}-\d{2}-\d{2}/.test(value));
}
