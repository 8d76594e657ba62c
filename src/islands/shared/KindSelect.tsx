import { Select } from '@mantine/core';
import { KIND_TRAITS, SHELF_KINDS, type ShelfKind } from '../../core/media/shelf-kind';

/** What kind of storage a shelf is, with what follows from it. `unchosen`: what is said where none is chosen. */
export function KindSelect({
  value,
  onChange,
  unchosen,
}: {
  value: ShelfKind | undefined;
  onChange: (kind: ShelfKind) => void;
  unchosen?: { readonly placeholder: string; readonly follows: string };
}) {
  return (
    <Select
      label="Kind"
      data={SHELF_KINDS.map((kind) => ({ value: kind, label: KIND_TRAITS[kind].word }))}
      placeholder={unchosen?.placeholder ?? ''}
      description={value ? KIND_TRAITS[value].follows : unchosen?.follows}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      allowDeselect={false}
      value={value ?? null}
      onChange={(next) => next !== null && onChange(next as ShelfKind)}
    />
  );
}
