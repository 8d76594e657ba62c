import { Button } from '@mantine/core';
import { useState } from 'react';
import { IconPlay } from '../icons';
import { PlayDialog, type Playable } from './PlayDialog';
import './player.css';

/** Plays an item, or the part of it that an event reads. */
export function PlayButton({ title, item }: { title: string; item: Playable }) {
  const [playing, setPlaying] = useState(false);
  return (
    <>
      <Button size="xs" variant="default" className="play-button" leftSection={<IconPlay size={13} />} onClick={() => setPlaying(true)}>
        Play
      </Button>
      {playing && <PlayDialog title={title} items={[item]} first={item.itemId} onClose={() => setPlaying(false)} />}
    </>
  );
}
