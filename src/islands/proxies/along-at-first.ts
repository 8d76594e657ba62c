/** What is taken along as long as nothing was chosen. */
import type { TakeAlongSettings } from '../../core/planning/take-along/settings';
import { RENDITION_KINDS } from '../../core/rendition/read-order';
import { KIND_NAMES } from './TakeKinds';

export const alongAtFirst = (): TakeAlongSettings => ({
  scope: { of: 'project' },
  rows: Object.fromEntries(RENDITION_KINDS.map((kind) => [kind, { isTaken: kind === 'proxy', destination: null, folderName: KIND_NAMES[kind] }])) as unknown as TakeAlongSettings['rows'], // prettier-ignore
  trip: null,
  layout: 'sources',
  asHome: false,
});
