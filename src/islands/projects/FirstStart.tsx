import { Button, Progress } from '@mantine/core';
import { useState } from 'react';
import type { ShelfView } from '../../server/stock/views/shelf';
import { formatBytes, formatCount } from '../../core/words/figures';
import { DrivesSeen } from '../shared/DrivesSeen';
import { plural } from '../shared/figures';
import { useShelves } from '../shared/questions';
import { RegisterShelf } from '../shared/RegisterShelf';
import { isGoing, useStocktake } from '../shared/use-stocktake';

interface Props {
  readonly onNew: (beginWithCard: boolean) => void;
  readonly onCrate: () => void;
}

/** An empty house: first the drives, then what to begin with. */
export function FirstStart({ onNew, onCrate }: Props) {
  const { data: shelves } = useShelves();
  const [registering, setRegistering] = useState(false);
  if (!shelves) return null;
  return (
    <div className="first-start">
      <section className="panel" aria-label="Drives and folders">
        <h2>1. Add the drives and folders that hold your media</h2>
        {shelves.length > 0 && (
          <ul className="drives-seen" aria-label="Added">
            {shelves.map((shelf) => (
              <Added key={shelf.id} shelf={shelf} />
            ))}
          </ul>
        )}
        <DrivesSeen hasSome={shelves.length > 0} onOther={() => setRegistering(true)} />
      </section>
      <section className="panel" aria-label="What to begin with">
        <h2>2. Begin</h2>
        <dl className="ways">
          <dt>
            <Button fullWidth variant={shelves.length > 0 ? 'filled' : 'default'} onClick={() => onNew(false)}>
              Make a project
            </Button>
          </dt>
          <dd>You have a timeline (OTIO, EDL) or a list of clips. It is brought in, and its media is found on your drives.</dd>
          <dt>
            <Button fullWidth variant="default" onClick={() => onNew(true)}>
              Start from a camera card
            </Button>
          </dt>
          <dd>You have new material. It is copied into standard folders, checked, and listed as clips.</dd>
          <dt>
            <Button fullWidth variant="default" onClick={onCrate}>
              Open a crate
            </Button>
          </dt>
          <dd>Somebody sent you a packed project. Every file of it is checked, then it becomes a project here.</dd>
        </dl>
      </section>
      <RegisterShelf opened={registering} onClose={() => setRegistering(false)} onDone={() => undefined} />
    </div>
  );
}

/** One that is on the list: how far it is read. */
function Added({ shelf }: { shelf: ShelfView }) {
  const stocktake = useStocktake(shelf);
  const going = stocktake && isGoing(stocktake) ? stocktake : null;
  return (
    <li>
      <b className="clip" title={shelf.mountPath ?? undefined}>
        {shelf.name}
      </b>
      {going ? (
        <span className="soft reading">
          {going.files === 0 ? 'looking what is there' : `${formatCount(going.doneFiles)} of ${plural(going.files, 'file')} read`}
          <Progress size="sm" value={going.files === 0 ? 0 : (100 * going.doneFiles) / going.files} aria-label={`${shelf.name}: files read`} />
        </span>
      ) : (
        <span className="soft">
          {plural(shelf.items, 'file')}, {formatBytes(shelf.itemBytes)}
        </span>
      )}
    </li>
  );
}
