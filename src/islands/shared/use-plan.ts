/** The plan of a stage: follows every change of a setting, and runs what was read. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDebouncedValue } from '@mantine/hooks';
import type Joi from 'joi';
import { useEffect, useMemo, useRef, useState } from 'react';

import type { DetailOf, PlanKind } from '../../server/kinds/kinds';
import type { PlanView } from '../../server/kinds/plan-views';
import { api } from './api';
import { askedOf, type QuestionState } from './asked';
import { messagesOf } from './form/joi-form';
import { tellError } from './notices';
import { askForNotices } from './news/use-news';

export interface PlanState<Detail> {
  readonly plan: PlanView<Detail> | null;
  /** The newest settings that there can be a plan for; null while there is nothing to plan. */
  readonly settings: unknown;
  /** Settings that the plan shown was made with; null while there is none. */
  readonly madeWith: unknown;
  readonly asked: QuestionState;
  /** What is wrong with the settings, by the path of the field. */
  readonly invalid: Readonly<Record<string, string>>;
  /** The plan is being made, or made anew. */
  readonly following: boolean;
  /** The plan shown is not yet the one of the newest settings. */
  readonly isOlder: boolean;
  readonly running: boolean;
  /** Run whose receipt the sheet shows instead of the plan. */
  readonly receiptId: number | null;
  readonly run: () => void;
  readonly backToPlan: () => void;
  /** Whether there is something to plan. */
  readonly isIdle: boolean;
}

/**
 * `settings` null: there is nothing to plan yet. `chosen`: what of them the user chose; the receipt of a run stands while
 * that is as it was when the run was started. `isOnce`: once it has run there is no such plan any more, as of an undo.
 */
export function usePlan<K extends PlanKind>(
  kind: K,
  projectId: string | null,
  settings: unknown,
  form: Joi.AnySchema,
  chosen: unknown = settings,
  { isOnce = false }: { readonly isOnce?: boolean } = {},
): PlanState<DetailOf<K>> {
  const client = useQueryClient();
  const invalid = useMemo(() => (settings === null ? {} : messagesOf(form, settings)), [form, settings]);
  const [held, hold] = useState(settings);
  // What the server would refuse is not sent: the plan stays the one of the last settings that can be.
  if (held !== settings && Object.keys(invalid).length === 0) hold(settings);
  // What is known at once is not waited for: the delay begins with the first change after that.
  const [later] = useDebouncedValue(held, 120);
  const planned = later ?? held;
  const about = JSON.stringify(chosen);
  const [receipt, setReceipt] = useState<{ readonly runId: number; readonly about: string } | null>(null);
  const query = useQuery({
    queryKey: ['plan', kind, projectId, planned],
    queryFn: () => api.postTo<{ digest: string; plan: PlanView<DetailOf<K>> }>('plans', { kind, projectId, settings: planned }),
    enabled: planned !== null && !(isOnce && receipt !== null),
    placeholderData: keepPreviousData,
  });
  const [madeWith, setMadeWith] = useState<unknown>(null);
  if (query.data && !query.isPlaceholderData && madeWith !== planned) setMadeWith(planned);
  const isSent = useRef(false);
  const mutation = useMutation({
    mutationFn: (_about: string) => api.postTo<{ id: number }>('runs', { kind, projectId, settings: planned, digest: query.data!.digest }),
    onSuccess: ({ id }, ranWith) => {
      setReceipt({ runId: id, about: ranWith });
      void client.invalidateQueries({ queryKey: ['runs'] });
    },
    onError: (error) => {
      tellError(error);
      void client.invalidateQueries({ queryKey: ['plan'] });
    },
    onSettled: () => (isSent.current = false),
  });
  // The second press of a double click comes before the page is drawn anew.
  const send = (ranWith: string) => {
    if (isSent.current) return;
    isSent.current = true;
    mutation.mutate(ranWith);
  };
  // A press that comes while the plan is looked at again waits for that, and holds only for what was shown.
  const [pressed, press] = useState<{ readonly digest: string; readonly about: string } | null>(null);
  useEffect(() => {
    if (pressed === null || query.isFetching) return;
    press(null);
    if (query.data?.digest === pressed.digest) send(pressed.about);
    else tellError(new Error('The plan has become another one just now. Look at it, then press again.'));
  }, [pressed, query.isFetching]);
  return {
    plan: settings === null ? null : (query.data?.plan ?? null),
    settings: settings === null ? null : held,
    madeWith: settings === null ? null : madeWith,
    asked: askedOf(query),
    isIdle: settings === null,
    invalid,
    following: query.isFetching || planned !== held,
    isOlder: query.isPlaceholderData || planned !== held,
    running: mutation.isPending || pressed !== null,
    receiptId: receipt?.about === about ? receipt.runId : null,
    run: () => {
      askForNotices();
      if (query.isFetching && query.data) press({ digest: query.data.digest, about });
      else send(about);
    },
    backToPlan: () => setReceipt(null),
  };
}
