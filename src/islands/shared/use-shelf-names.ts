import { useQuery } from '@tanstack/react-query';
import type { ShelfView } from '../../server/api/views';
import { api } from './api';

export type ShelfNames = (shelfId: string) => string;

export function useShelfNames(): ShelfNames {
  const { data: shelves = [] } = useQuery({ queryKey: ['shelves'], queryFn: () => api.get<ShelfView[]>('shelves') });
  return (shelfId) => shelves.find((shelf) => shelf.id === shelfId)?.name ?? 'a shelf';
}
