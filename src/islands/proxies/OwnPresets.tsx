import { ActionIcon, Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { ProxySettings } from '../../core/planning/proxies/settings';
import { byName } from '../../core/naming/by-name';
import { sizeWords } from '../../core/rendition/picture-size';
import { presetOf } from '../../core/rendition/presets';
import { IconMissing } from '../shared/icons';
import { useRemembered } from '../shared/use-remembered';

/** What a preset of one's own says. */
type OwnPreset = Pick<ProxySettings, 'presetId' | 'size' | 'quality' | 'sound' | 'burnIn'> & { readonly name: string };

interface Props {
  readonly projectId: string;
  readonly settings: ProxySettings;
  readonly onChange: (change: Partial<ProxySettings>) => void;
}

/** What is set now, kept under a name; and what was kept before, taken again. */
export function OwnPresets({ projectId, settings, onChange }: Props) {
  const [kept, change] = useRemembered<{ own: readonly OwnPreset[] }>(projectId, 'own-presets', () => ({ own: [] }));
  const [name, setName] = useState('');
  const own = kept?.own ?? [];
  const { presetId, size, quality, sound, burnIn } = settings;
  const now = JSON.stringify([presetId, size, quality, sound, burnIn]);
  const keep = () => {
    const called = name.trim();
    if (called === '') return;
    change({
      own: [...own.filter((one) => one.name !== called), { name: called, presetId, size, quality, sound, burnIn }].sort((a, b) =>
        byName(a.name, b.name),
      ),
    });
    setName('');
  };
  return (
    <details className="more-choices">
      <summary>presets of your own{own.length > 0 ? ` (${own.length})` : ''}</summary>
      <ul className="own-presets" aria-label="Presets of your own">
        {own.map((one) => {
          const { name: called, ...set } = one;
          const isNow = JSON.stringify([set.presetId, set.size, set.quality, set.sound, set.burnIn]) === now;
          return (
            <li key={called}>
              <button
                type="button"
                className="linkish"
                aria-pressed={isNow}
                title={`${presetOf(set.presetId).name}, ${sizeWords(set.size)}`}
                onClick={() => onChange(set)}
              >
                {called}
              </button>
              <span className="soft">
                {presetOf(set.presetId).name}, {sizeWords(set.size)}
              </span>
              <ActionIcon
                size={22}
                variant="subtle"
                color="gray"
                aria-label={`Take ${called} out`}
                title="Take it out"
                onClick={() => change({ own: own.filter((other) => other !== one) })}
              >
                <IconMissing size={12} />
              </ActionIcon>
            </li>
          );
        })}
      </ul>
      <form
        className="controls"
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <TextInput
          size="xs"
          flex={1}
          aria-label="Name of the preset"
          placeholder="Keep what is set as …"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Button size="xs" variant="default" type="submit" disabled={name.trim() === ''}>
          Keep
        </Button>
      </form>
    </details>
  );
}
