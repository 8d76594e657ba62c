/** The stages in the order of the work. Numbers follow from the order, and are the keys that open them. */

export interface Stage {
  readonly id: 'overview' | 'timelines' | 'shelves' | 'sort' | 'relink' | 'pull' | 'proxies' | 'crates' | 'runs';
  readonly name: string;
  readonly key: string;
  readonly group: 'before' | 'work' | 'after';
}

export const STAGES: readonly Stage[] = [
  { id: 'overview', name: 'Overview', key: '0', group: 'before' },
  { id: 'timelines', name: 'Timelines', key: 't', group: 'before' },
  { id: 'shelves', name: 'Shelves', key: '1', group: 'work' },
  { id: 'sort', name: 'Sort', key: '2', group: 'work' },
  { id: 'relink', name: 'Relink', key: '3', group: 'work' },
  { id: 'pull', name: 'Pull', key: '4', group: 'work' },
  { id: 'proxies', name: 'Proxies', key: '5', group: 'work' },
  { id: 'crates', name: 'Crates', key: '6', group: 'work' },
  { id: 'runs', name: 'Runs', key: 'r', group: 'after' },
];

export function stagePath(projectId: string, stage: Stage['id']): string {
  return `/p/${projectId}/${stage}`;
}
