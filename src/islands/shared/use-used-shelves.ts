/** Shelves that something was put on or looked for on in this browser: lists show them first. */
import { useLocalStorage } from '@mantine/hooks';

const MOST = 12;

export function useUsedShelves(): { readonly isUsed: (shelfId: string) => boolean; readonly use: (shelfId: string) => void } {
  const [used, setUsed] = useLocalStorage<string[]>({ key: 'mill-shelf used shelves', defaultValue: [], getInitialValueInEffect: false });
  return {
    isUsed: (shelfId) => used.includes(shelfId),
    use: (shelfId) => setUsed((old) => [shelfId, ...old.filter((id) => id !== shelfId)].slice(0, MOST)),
  };
}
