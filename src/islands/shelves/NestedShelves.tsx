import type { ShelfView } from '../../server/stock/views/shelf';

/** Shelves of older days that lie inside another one. */
export function NestedShelves({ shelves }: { shelves: readonly ShelfView[] }) {
  return shelves.map(({ id, name, inside }) =>
    inside ? (
      <div key={id} className="note warns shelf-copies" role="status">
        <span>
          <b>{name}</b> {inside.path === '' ? 'is the same folder as' : `is the folder "${inside.path}" of`} <b>{inside.shelf}</b>. Each file on both
          has two entries. Take one of the two off the list; its files stay.
        </span>
      </div>
    ) : null,
  );
}
