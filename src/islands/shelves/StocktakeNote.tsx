import type { ShelfView } from '../../server/stock/views/shelf';
import { isGoing, useStocktake } from '../shared/use-stocktake';

/** What the last stocktake of a shelf has to say: folders it could not open, a drive that went away. */
export function StocktakeNote({ shelf }: { shelf: ShelfView }) {
  const last = useStocktake(shelf);
  if (!last?.message || isGoing(last)) return null;
  return (
    <div className="note warns shelf-copies" role="status">
      <b>{shelf.name}</b>: {last.message}
    </div>
  );
}
