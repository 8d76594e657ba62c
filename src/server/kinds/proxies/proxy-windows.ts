/** Rows of the proxies as they are looked at: all clips of the scope, or those with something to see to. */
import type { Plan } from '../../../core/planning/plan/plan';
import type { ProxyDetail, ProxyRow } from '../../../core/planning/proxies/proxies';
import type { ProxySettings } from '../../../core/planning/proxies/settings';
import { isOffline } from '../../../core/project/clip';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';

export type ProxySort = 'name' | 'size';

const GROUPS: Readonly<Record<string, (row: ProxyRow) => boolean>> = {
  '': () => true,
  made: ({ fate }) => fate === 'made',
  lacking: ({ cells, fate }) => cells.proxy === null && fate !== 'its own proxy',
  older: ({ cells }) => [cells.proxy, cells.mezzanine].some((cell) => cell?.older),
  misfit: ({ cells }) => [cells.proxy, cells.mezzanine, cells.finished].some((cell) => cell !== null && cell.misfits.length > 0),
  offline: ({ without }) => isOffline(without),
  elsewhere: ({ isElsewhere }) => isElsewhere,
  burned: ({ cells }) => cells.proxy?.burnIn === true,
  only: ({ cells }) => cells.source?.state !== 'present' && [cells.proxy, cells.mezzanine, cells.finished].some((cell) => cell?.state === 'present'),
};

export function proxyWindow(plan: Plan<ProxyDetail>, _settings: ProxySettings, group: string, query: WindowQuery<ProxySort>): Window<ProxyRow> {
  const test = Object.hasOwn(GROUPS, group) ? GROUPS[group] : undefined;
  if (!test) throw notFound('list');
  const words = filterWords(query.filter);
  const own = plan.detail.rows.filter(test).filter(({ name, cells }) => fits(words, `${name} ${cells.source?.place?.path ?? ''} ${cells.proxy?.place?.path ?? ''}`)); // prettier-ignore
  return cutInOrder(own, query, ({ cells }) => cells.proxy?.bytes ?? 0);
}
