import { Button } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { StocktakeView } from '../../server/stock/views/shelf';
import { formatCount } from '../../core/words/figures';
import { isOver } from './news/live-runs';
import { RegisterShelf } from './RegisterShelf';

interface Props {
  readonly label: string;
  readonly reading: string | null;
  readonly onReading: (shelfId: string) => void;
}

/** A folder that is not on the list yet: it becomes a shelf, and is read at once. */
export function FindMedia({ label, reading, onReading }: Props) {
  const [open, setOpen] = useState(false);
  const progress = useReading(reading);
  return (
    <>
      {progress && isGoing(progress) ? (
        <span className="soft" role="status">
          Reading {formatCount(progress.doneFiles)} of {formatCount(progress.files)} files …
        </span>
      ) : (
        <Button size="compact-xs" variant="default" onClick={() => setOpen(true)}>
          {label}
        </Button>
      )}
      <RegisterShelf opened={open} onClose={() => setOpen(false)} onDone={onReading} />
    </>
  );
}

/** The stocktake of a shelf, kept up to date by the news; null where none is meant. */
export function useReading(shelfId: string | null): StocktakeView | null {
  const { data } = useQuery<StocktakeView | null>({
    queryKey: ['stocktake', shelfId],
    queryFn: () => null,
    enabled: false,
    staleTime: Infinity,
  });
  return data ?? null;
}

export function isGoing(progress: StocktakeView | null): boolean {
  return progress !== null && !isOver(progress);
}
