import { Button, Popover, Textarea } from '@mantine/core';
import { useState } from 'react';
import { useTyped } from './form/use-typed';
import { USUAL_ADDITIONS } from '../../core/matching/additions';

interface Props {
  /** Rules that were chosen; undefined: the usual ones. */
  readonly value: readonly string[] | undefined;
  readonly onChange: (rules: readonly string[] | undefined) => void;
}

/** What systems add to the names of files: a rule a line, to see and to change. */
export function NameAdditions({ value, onChange }: Props) {
  const rules = value ?? USUAL_ADDITIONS;
  const [isOpen, setOpen] = useState(false);
  const keep = (text: string) => {
    const lines = text.split('\n').map((line) => line.slice(0, 40)).filter((line) => line.trim() !== '').slice(0, 40); // prettier-ignore
    onChange(lines.join('\n') === USUAL_ADDITIONS.join('\n') ? undefined : lines);
    return true;
  };
  const typed = useTyped('rules', rules.join('\n'), { keep, isLong: true, onLeave: (how) => how === 'by Escape' && setOpen(false) });
  return (
    <Popover width={290} position="bottom-end" withinPortal opened={isOpen} onChange={setOpen} closeOnEscape={false}>
      <Popover.Target>
        <Button size="xs" variant="default" title="What systems add to file names" onClick={() => setOpen(!isOpen)}>
          Name rules
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Textarea
          size="xs"
          label="Added to file names"
          description="One a line. # is a digit; a blank, _, - and . stand for each other. A file with an addition is only linked when its timecode fits too."
          autosize
          minRows={6}
          maxRows={12}
          {...typed}
          classNames={{ input: 'mono-input' }}
        />
        {value !== undefined && (
          <Button size="compact-xs" variant="default" mt={8} onClick={() => onChange(undefined)}>
            Use the usual rules
          </Button>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
