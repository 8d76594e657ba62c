import { Checkbox, Collapse, TextInput, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import type { CrateSettings } from '../../core/planning/crate/settings';
import type { CrateAbout } from '../../core/planning/crate/crate-about';

const FIELDS: readonly { readonly key: keyof CrateAbout; readonly label: string; readonly example: string }[] = [
  { key: 'version', label: 'Version', example: 'picture lock 2' },
  { key: 'sender', label: 'Sender', example: 'company or name' },
  { key: 'receiver', label: 'Receiver', example: 'company or name' },
  { key: 'licence', label: 'Licence', example: 'terms of use' },
];

interface Props {
  readonly settings: CrateSettings;
  readonly invalid: Readonly<Record<string, string>>;
  readonly onChange: (change: Partial<CrateSettings>) => void;
}

/** What a crate says of itself beyond its name, and whether it names the folders of this house. Folded while nothing is said. */
export function AboutCrate({ settings, invalid, onChange }: Props) {
  const { about = {}, keepPaths = false } = settings;
  const [open, setOpen] = useState(Object.keys(about).length > 0 || keepPaths);
  const set = (key: keyof CrateAbout, value: string) => {
    const { [key]: _old, ...rest } = about;
    onChange({ about: value.trim() === '' ? rest : { ...rest, [key]: value } });
  };
  return (
    <div>
      <UnstyledButton className="own-link small" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Fewer details' : 'Version, sender, receiver, licence …'}
      </UnstyledButton>
      <Collapse in={open}>
        <div className="sheet-field">
          {FIELDS.map(({ key, label, example }) => (
            <TextInput
              key={key}
              size="xs"
              aria-label={label}
              leftSection={<span className="inside-label">{label}</span>}
              leftSectionWidth={74}
              placeholder={example}
              maxLength={200}
              error={invalid[`about.${key}`]}
              value={about[key] ?? ''}
              onChange={(event) => set(key, event.currentTarget.value)}
            />
          ))}
          <TextInput
            size="xs"
            type="date"
            aria-label="Use ends on"
            leftSection={<span className="inside-label">Use ends</span>}
            leftSectionWidth={74}
            error={invalid['about.endsOn']}
            value={about.endsOn ?? ''}
            onChange={(event) => set('endsOn', event.currentTarget.value)}
          />
          <Checkbox
            size="xs"
            label="Name the folders of this house"
            description="In the timelines and the report. Otherwise file names only."
            checked={keepPaths}
            onChange={(event) => onChange({ keepPaths: event.currentTarget.checked })}
          />
        </div>
      </Collapse>
    </div>
  );
}
