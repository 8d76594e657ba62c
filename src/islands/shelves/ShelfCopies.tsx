import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import type { ShelfView } from '../../server/stock/views/shelf';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { PathText } from '../shared/PathText';

/** Folders that bear the marker of a shelf beside it: each can become a shelf of its own. */
export function ShelfCopies({ shelves }: { shelves: readonly ShelfView[] }) {
  const client = useQueryClient();
  const giveIdentity = (path: string) => void api.post('shelves', { path, ownIdentity: true }).then(() => client.invalidateQueries(), tellError);
  return shelves
    .filter((shelf) => shelf.copies.length > 0)
    .map((shelf) => (
      <div key={shelf.id} className="note warns shelf-copies" role="status">
        <span>
          {shelf.attached ? (
            <>
              A copy of <b>{shelf.name}</b> bears its marker. The original stays in use.
            </>
          ) : (
            <>
              Several folders bear the marker of <b>{shelf.name}</b>, so none is used. Say which is a copy.
            </>
          )}
        </span>
        {shelf.copies.map((path) => (
          <div key={path} className="shelf-copy">
            <PathText path={path} />
            <Button size="compact-xs" variant="default" onClick={() => giveIdentity(path)}>
              {shelf.attached ? 'Make it a shelf of its own' : 'This is a copy'}
            </Button>
          </div>
        ))}
      </div>
    ));
}
