import { planExchange, type ExchangeDetail, type ShotFate, type ShotRow } from '../../../core/planning/exchange/exchange';
import { exchangeForm, type ExchangeSettings } from '../../../core/planning/exchange/settings';
import type { Plan } from '../../../core/planning/plan/plan';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import { cutOut, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { exchangeBack, exchangeChange } from './exchange-change';

export const exchangeKind = defineKind<ExchangeSettings, ExchangeDetail>()({
  form: exchangeForm,
  undoable: true,
  isKept: true,
  changes: { exchange: exchangeChange, 'exchange-back': exchangeBack },
  rows: { sorts: ['record'], of: shotWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  async plan(asked, settings) {
    const named = [...(settings.timelineId === null ? [] : [settings.timelineId]), ...timelinesNamed(settings.scope)];
    const snapshot = await projectSnapshot(asked, named);
    const folder = settings.among === 'folder' ? settings.place : null;
    return planExchange(
      snapshot,
      settings,
      folder ? asked.catalogue.sort.itemsBelow(folder) : [],
      asked.catalogue.twins(),
      asked.catalogue.parts.all(),
    );
  },
});

const GROUPS: Readonly<Record<string, readonly ShotFate[]>> = {
  '': ['exchanged', 'offered', 'lacks', 'unfit', 'none', 'kept'],
  exchanged: ['exchanged'],
  open: ['offered', 'lacks', 'unfit', 'none'],
  choose: ['offered'],
  lacks: ['lacks', 'unfit'],
  none: ['none'],
};

function shotWindow(plan: Plan<ExchangeDetail>, _settings: ExchangeSettings, group: string, query: WindowQuery<'record'>): Window<ShotRow> {
  const fates = Object.hasOwn(GROUPS, group) ? GROUPS[group] : undefined;
  if (!fates) throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter(({ fate }) => fates.includes(fate))
    .filter(({ name, track, record, before, after }) => fits(words, `${name} ${track} ${record} ${before?.name ?? ''} ${after?.name ?? ''}`));
  return cutOut(query.down ? [...rows].reverse() : rows, query);
}
