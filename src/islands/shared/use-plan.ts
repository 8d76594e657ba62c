/** The plan of a stage: follows every change of a setting, and runs what was read. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import type { PlanKind } from '../../core/planning/plan';
import type { PlanView } from '../../server/projects/plan-views';
import { api } from './api';
import { tellError } from './notices';
import { askForNotices } from './use-news';

export interface PlanState<Detail> {
  readonly plan: PlanView<Detail> | null;
  readonly error: Error | null;
  /** The plan shown is not yet the one of the newest settings. */
  readonly following: boolean;
  readonly running: boolean;
  /** Run whose receipt the sheet shows instead of the plan. */
  readonly receiptId: number | null;
  readonly run: () => void;
  readonly backToPlan: () => void;
}

/** `settings` null: there is nothing to plan yet. */
export function usePlan<Detail>(kind: PlanKind, projectId: string | null, settings: unknown): PlanState<Detail> {
  const client = useQueryClient();
  const [settled] = useDebouncedValue(settings, 120);
  const [receiptId, setReceiptId] = useState<number | null>(null);
  const query = useQuery({
    queryKey: ['plan', kind, projectId, settled],
    queryFn: () => api.post<{ digest: string; plan: PlanView<Detail> }>('plans', { kind, projectId, settings: settled }),
    enabled: settled !== null,
    placeholderData: keepPreviousData,
  });
  const mutation = useMutation({
    mutationFn: () => api.post<{ id: number }>('runs', { kind, projectId, settings: settled, digest: query.data!.digest }),
    onSuccess: ({ id }) => {
      setReceiptId(id);
      void client.invalidateQueries({ queryKey: ['runs'] });
    },
    onError: (error) => {
      tellError(error);
      void client.invalidateQueries({ queryKey: ['plan'] });
    },
  });
  return {
    plan: settings === null ? null : (query.data?.plan ?? null),
    error: query.error,
    following: query.isFetching || settled !== settings,
    running: mutation.isPending,
    receiptId,
    run: () => {
      askForNotices();
      mutation.mutate();
    },
    backToPlan: () => setReceiptId(null),
  };
}
