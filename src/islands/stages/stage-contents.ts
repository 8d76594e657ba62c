/** The scripts of the stages, each fetched when it is first gone to. */
import type { ComponentType } from 'react';
import type { Stage } from '../shared/stages';

export type StageContent = ComponentType<{ readonly projectId: string }>;

const FETCHED: Readonly<Record<Stage['id'], () => Promise<StageContent>>> = {
  overview: () => import('../overview/Overview').then(({ Overview }) => Overview),
  timelines: () => import('../timelines/Timelines').then(({ Timelines }) => Timelines),
  shelves: () => import('../shelves/Shelves').then(({ Shelves }) => Shelves),
  sort: () => import('../sort/Sort').then(({ Sort }) => Sort),
  relink: () => import('../relink/Relink').then(({ Relink }) => Relink),
  pull: () => import('../pull/Pull').then(({ Pull }) => Pull),
  proxies: () => import('../proxies/Proxies').then(({ Proxies }) => Proxies),
  crates: () => import('../crates/Crates').then(({ Crates }) => Crates),
  runs: () => import('../runs/RunList').then(({ RunList }) => RunList),
};

const here = new Map<Stage['id'], StageContent>();

export function keepContent(stage: Stage['id'], content: StageContent): void {
  here.set(stage, content);
}

/** Null where it has not come yet. */
export function contentOf(stage: Stage['id']): StageContent | null {
  return here.get(stage) ?? null;
}

export async function fetchContent(stage: Stage['id']): Promise<StageContent> {
  const content = here.get(stage) ?? (await FETCHED[stage]());
  here.set(stage, content);
  return content;
}
