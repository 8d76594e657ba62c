import { useQuery } from '@tanstack/react-query';
import type { ShelfView, StocktakeView } from '../../server/stock/views/shelf';
import { isOver } from './news/live-runs';

/** Whether it waits, works or stands still: it can be stopped. */
export function isGoing(stocktake: StocktakeView | null): boolean {
  return stocktake !== null && !isOver(stocktake);
}

/** The last stocktake of a shelf: as the news told it, or as the shelf was asked for, whichever is later. */
export function useStocktake({ id, stocktake: asked }: ShelfView): StocktakeView | null {
  const { data: told = null } = useQuery<StocktakeView | null>({ queryKey: ['stocktake', id], queryFn: () => null, enabled: false, staleTime: Infinity }); // prettier-ignore
  if (!told || !asked) return told ?? asked;
  if (told.runId !== asked.runId) return told.runId > asked.runId ? told : asked;
  return isOver(asked) ? asked : told;
}
