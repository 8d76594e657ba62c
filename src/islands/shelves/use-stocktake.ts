import { useQuery } from '@tanstack/react-query';
import type { ShelfView } from '../../server/stock/views/shelf';
import type { StocktakeProgress } from '../../server/stock/stocktake';

/** The last stocktake of a shelf, kept up to date by the news. */
export function useStocktake(shelf: ShelfView): StocktakeProgress | null {
  const { data } = useQuery<StocktakeProgress | null>({
    queryKey: ['stocktake', shelf.id],
    queryFn: () => shelf.stocktake,
    initialData: shelf.stocktake,
    staleTime: Infinity,
  });
  return data;
}
