/** Asks a running server, and makes by plan and run what a test needs before it begins. */
import type { DemoServer } from './demo-server';

export type Ask = <T>(path: string, body?: unknown, method?: string) => Promise<T>;

export function asker(demo: Pick<DemoServer, 'address'>): Ask {
  return async <T>(path: string, body?: unknown, method = body === undefined ? 'GET' : 'POST'): Promise<T> => {
    const headers = { 'content-type': 'application/json' };
    const response = await fetch(`${demo.address}api/${path}`, { method, ...(body === undefined ? {} : { headers, body: JSON.stringify(body) }) });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return (text === '' ? undefined : JSON.parse(text)) as T;
  };
}

export async function runPlan(ask: Ask, kind: string, projectId: string, settings: object): Promise<number> {
  const request = { kind, projectId, settings };
  const { digest } = await ask<{ digest: string }>('plans', request);
  const { id } = await ask<{ id: number }>('runs', { ...request, digest });
  await ask(`runs/${id}?wait=end`);
  return id;
}

export async function shelfId(ask: Ask, name: string): Promise<string> {
  return (await ask<{ id: string; name: string }[]>('shelves')).find((shelf) => shelf.name === name)!.id;
}

export async function timelineId(ask: Ask, projectId: string, name: string): Promise<string> {
  return (await ask<{ id: string; name: string }[]>(`projects/${projectId}/timelines`)).find((timeline) => timeline.name === name)!.id;
}

const TAKE = { media: 'parts', headFrames: 25, tailFrames: 25, joinGapFrames: 25, countDisabled: false };

/** The used parts of a timeline, on TRAVEL-SSD, as a crate. */
export async function makeCrate(ask: Ask, projectId: string, crateName = 'Bronze Hour for the mix', timeline = 'Trailer 30s'): Promise<number> {
  const destination = { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' };
  const timelineIds = [await timelineId(ask, projectId, timeline)];
  return runPlan(ask, 'crate', projectId, { ...TAKE, timelineIds, destination, crateName, note: '' });
}

export async function pullParts(ask: Ask, projectId: string, folderName: string, timeline = 'Trailer 30s'): Promise<number> {
  const destination = { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' };
  const timelineIds = [await timelineId(ask, projectId, timeline)];
  return runPlan(ask, 'pull', projectId, { ...TAKE, timelineIds, destination, folderName });
}

/** A pull of whole files that was started and stands still: a run that goes on for as long as a test wishes. */
export async function pausedPull(ask: Ask, projectId: string, folderName: string): Promise<number> {
  const destination = { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' };
  const timelineIds = [await timelineId(ask, projectId, 'Old assembly')];
  const request = { kind: 'pull', projectId, settings: { ...TAKE, media: 'whole', timelineIds, destination, folderName } };
  const { digest } = await ask<{ digest: string }>('plans', request);
  const { id } = await ask<{ id: number }>('runs', { ...request, digest });
  await ask(`runs/${id}/pause`, {});
  return id;
}
