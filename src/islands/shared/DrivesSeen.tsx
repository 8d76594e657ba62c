import { Button, Checkbox } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { KIND_TRAITS } from '../../core/media/shelf-kind';
import { formatBytes, formatCount } from '../../core/words/figures';
import type { SeenPlace } from '../../server/stock/seen-places';
import { api } from './api';
import { askedOf } from './asked';
import { Face } from './Face';
import { plural } from './figures';
import { tellError } from './notices';

/** Drives and folders that this machine sees and that are not on the list: chosen by a tick, added and read by one press. `hasSome`: others are on the list. */
export function DrivesSeen({ hasSome = false, onOther }: { hasSome?: boolean; onOther: () => void }) {
  const client = useQueryClient();
  const query = useQuery({ queryKey: ['places'], queryFn: () => api.get('places') });
  const { roots = [], places = [] } = query.data ?? {};
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const [isAdding, setAdding] = useState(false);
  // What holds media is ticked to begin with.
  const isTicked = ({ path, mediaFiles, crates }: SeenPlace) => turned.has(path) !== mediaFiles + crates > 0;
  const turn = (path: string) => setTurned(new Set(turned.has(path) ? [...turned].filter((own) => own !== path) : [...turned, path]));
  const chosen = places.filter(isTicked);
  const add = async () => {
    setAdding(true);
    // One that cannot be added keeps no other from it.
    for (const { path } of chosen)
      await api
        .post('shelves', { path, ownIdentity: false })
        .then(({ id }) => api.post(`shelves/${id}/stocktake`))
        .catch(tellError);
    setAdding(false);
    await client.invalidateQueries();
  };
  return (
    <Face asked={askedOf(query)} lines={4}>
      {places.length === 0 ? (
        <p className="soft">{hasSome ? 'No other' : 'No'} drive or folder with media was found.</p>
      ) : (
        <ul className="drives-seen" aria-label="Drives and folders with media">
          {places.map((place) => (
            <li key={place.path}>
              <Checkbox
                label={place.name}
                description={wordsOf(place)}
                checked={isTicked(place)}
                disabled={isAdding}
                onChange={() => turn(place.path)}
              />
              <span className="mono soft">{place.path}</span>
            </li>
          ))}
        </ul>
      )}
      <div className="drives-foot">
        {places.length > 0 && (
          <Button disabled={chosen.length === 0} loading={isAdding} onClick={() => void add()}>
            {chosen.length === 0 ? 'Choose what to add' : `Add ${plural(chosen.length, 'place')} and read what is there`}
          </Button>
        )}
        <Button variant="default" disabled={isAdding} onClick={onOther}>
          Choose another folder
        </Button>
      </div>
      <p className="soft tight">
        Looked in {roots.join(', ')}. To look elsewhere, start the server with --roots. One small file, .mill-shelf.json, is written to each place you
        add. Nothing else is changed.
      </p>
    </Face>
  );
}

function wordsOf({ kind, isDrive, mediaFiles, mediaBytes, isMore, crates }: SeenPlace): string {
  const what = kind === 'working' ? (isDrive ? 'Drive' : 'Folder') : KIND_TRAITS[kind].word;
  const media = mediaFiles > 0 ? `${isMore ? `more than ${formatCount(mediaFiles)} media files` : plural(mediaFiles, 'media file')}` : isMore ? '' : 'no media files'; // prettier-ignore
  const size = mediaBytes > 0 && !isMore ? formatBytes(mediaBytes) : '';
  return [what, media, size, crates > 0 ? plural(crates, 'crate') : ''].filter((word) => word !== '').join(' · ');
}
