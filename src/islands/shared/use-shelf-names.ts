import { useShelves } from './questions';

export type ShelfNames = (shelfId: string) => string;

export function useShelfNames(): ShelfNames {
  const { data: shelves = [] } = useShelves();
  return (shelfId) => shelves.find((shelf) => shelf.id === shelfId)?.name ?? 'a shelf';
}
