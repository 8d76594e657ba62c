import { useQuery } from '@tanstack/react-query';
import type { ShelfView, StocktakeView } from '../../server/stock/views/shelf';
import { isOver } from '../shared/news/live-runs';

/** Whether it waits, works or stands still: it can be stopped. */
export function isGoing(stocktake: StocktakeView | null): boolean {
  return stocktake !== null && !isOver(stocktake);
}

/** The last stocktake of a shelf, kept up to date by the news. */
export function useStocktake(shelf: ShelfView): StocktakeView | null {
  const { data } = useQuery<StocktakeView | null>({
    queryKey: ['stocktake', shelf.id],
    queryFn: () => shelf.stocktake,
    initialData: shelf.stocktake,
    staleTime: Infinity,
  });
  return data;
}
