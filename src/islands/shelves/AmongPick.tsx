import { Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { formatBytes, plural } from '../../core/words/figures';
import { api } from '../shared/api';

const PARTS = { duplicates: 'Duplicates', spare: 'In no project here', broken: 'Damaged or unreadable' } as const;
type Part = keyof typeof PARTS;

export function isPart(word: string | null): word is Part {
  return word !== null && word in PARTS;
}

/** Which files of a shelf are listed, with how many there are and their size. */
export function AmongPick({ shelfId, value, onChange }: { shelfId: string; value: Part | null; onChange: (part: string | null) => void }) {
  const { data: counts } = useQuery({ queryKey: ['items', 'among', shelfId], queryFn: () => api.get(`shelves/${shelfId}/among`) });
  const label = (part: Part) => (counts ? `${PARTS[part]} · ${plural(counts[part].files, 'file')}, ${formatBytes(counts[part].bytes)}` : PARTS[part]);
  return (
    <Select
      size="xs"
      w={270}
      ml="auto"
      aria-label="Files listed"
      data={[{ value: '', label: 'All files' }, ...(Object.keys(PARTS) as Part[]).map((part) => ({ value: part, label: label(part) }))]}
      value={value ?? ''}
      allowDeselect={false}
      onChange={(part) => onChange(part === '' ? null : part)}
    />
  );
}
