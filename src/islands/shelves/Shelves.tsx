import { Button, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import { askedOf } from '../shared/asked';
import { DrivesSeen } from '../shared/DrivesSeen';
import { Face, StaleNote } from '../shared/Face';
import { Gone } from '../shared/Gone';
import { useShelves } from '../shared/questions';
import { useAddressPlace, useAddressWord } from '../shared/use-address';
import { usePinned } from '../shared/use-pinned';
import { IconPlus, IconSearch } from '../shared/icons';
import { AmongPick, isPart } from './AmongPick';
import { CheckCopies } from './CheckCopies';
import { ItemTable } from './ItemTable';
import { RegisterShelf } from '../shared/RegisterShelf';
import { ShelfCard } from './ShelfCard';
import { LastChange } from './LastChange';
import { NestedShelves } from './NestedShelves';
import { ShelfCopies } from './ShelfCopies';
import { StocktakeNote } from './StocktakeNote';
import './shelves.css';
import { StageHead } from '../shared/StageHead';

/** Which drives and folders hold media, which are plugged in, what is on them, how full they are. */
export function Shelves({ projectId }: { projectId: string }) {
  const query = useShelves();
  const { data: shelves } = query;
  const [chosen, setChosen] = useAddressPlace('shelf');
  const [found, setFilter] = useAddressWord('find');
  const filter = found ?? '';
  const [registering, setRegistering] = useState(false);
  const [checked, check] = useAddressPlace('check');
  const [chosenPart, setAmong] = useAddressPlace('among');
  const among = isPart(chosenPart) ? chosenPart : null;
  const first = usePinned((shelves?.find((entry) => entry.items > 0) ?? shelves?.[0])?.id, (id) => shelves?.some((entry) => entry.id === id) ?? true);
  const shelf = shelves?.find((entry) => entry.id === chosen) ?? shelves?.find((entry) => entry.id === first);
  // Asked when the hand rests.
  const [asked] = useDebouncedValue(filter, 150);
  if (!shelves)
    return (
      <>
        <StageHead title="Shelves" lead="Drives and folders that hold your media." />
        <Face asked={askedOf(query)} lines={10}>
          {null}
        </Face>
      </>
    );
  const toCheck = shelves.find(({ id }) => id === checked);
  if (toCheck) return <CheckCopies projectId={projectId} shelf={toCheck} onLeave={() => check(null)} />;
  const attached = shelves.filter((entry) => entry.attached).length;
  return (
    <>
      <StageHead
        title="Shelves"
        lead={
          shelves.length === 0
            ? 'Drives and folders that hold your media.'
            : `${attached} of ${shelves.length} plugged in. A shelf is known again under any mount path.`
        }
      >
        <Button size="xs" leftSection={<IconPlus size={14} />} onClick={() => setRegistering(true)}>
          Add a drive or folder
        </Button>
      </StageHead>
      {shelves.length === 0 ? (
        <div className="panel no-shelves">
          <h2 className="head-14">No shelf yet</h2>
          <DrivesSeen onOther={() => setRegistering(true)} />
        </div>
      ) : (
        <>
          <StaleNote asked={askedOf(query)} />
          {chosen !== null && shelf?.id !== chosen && <Gone what="The shelf" onLeave={() => setChosen(null)} />}
          <div className="shelf-cards">
            {shelves.map((entry) => (
              <ShelfCard
                key={entry.id}
                shelf={entry}
                chosen={entry.id === shelf?.id}
                onChoose={() => setChosen(entry.id)}
                onCheck={() => check(entry.id)}
              />
            ))}
          </div>
          {shelves.map((entry) => (
            <StocktakeNote key={entry.id} shelf={entry} />
          ))}
          <ShelfCopies shelves={shelves} />
          <NestedShelves shelves={shelves} />
          <div className="controls">
            <b className="head-14">On {shelf?.name}</b>
            {shelf && <LastChange shelfId={shelf.id} />}
            {shelf && <AmongPick shelfId={shelf.id} value={among} onChange={setAmong} />}
            <TextInput
              data-filter=""
              size="xs"
              w={250}
              placeholder="Filter by name, reel, codec"
              aria-label="Filter items"
              leftSection={<IconSearch size={14} />}
              value={filter}
              onChange={(event) => setFilter(event.currentTarget.value)}
            />
          </div>
          <ItemTable key={shelf?.id} filter={asked} among={among} shelf={shelf ?? null} />
        </>
      )}
      <RegisterShelf opened={registering} onClose={() => setRegistering(false)} onDone={setChosen} />
    </>
  );
}
