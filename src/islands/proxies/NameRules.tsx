import { TextInput } from '@mantine/core';
import { SheetField } from '../shared/SheetField';

interface Rules {
  readonly endings: string;
  readonly inFolders: string;
}

interface Props {
  readonly label: string;
  /** Beside which names endings stand. */
  readonly as: string;
  readonly rules: Rules;
  readonly invalid: Readonly<Record<string, string>>;
  readonly onChange: (change: Partial<Rules>) => void;
}

/** By which names files are known, and in which folders. */
export function NameRules({ label, as, rules, invalid, onChange }: Props) {
  return (
    <SheetField label={label}>
      <TextInput
        size="xs"
        label={as}
        error={invalid.endings}
        value={rules.endings}
        onChange={(event) => onChange({ endings: event.currentTarget.value })}
        classNames={{ input: 'mono-input' }}
      />
      <TextInput
        size="xs"
        mt={6}
        label="Only in folders called"
        placeholder="any folder"
        error={invalid.inFolders}
        value={rules.inFolders}
        onChange={(event) => onChange({ inFolders: event.currentTarget.value })}
        classNames={{ input: 'mono-input' }}
      />
    </SheetField>
  );
}
