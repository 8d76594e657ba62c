import { SegmentedControl } from '@mantine/core';
import { useLayoutEffect, useRef } from 'react';

interface Props<View extends string> {
  readonly label: string;
  readonly names: Readonly<Record<View, string>>;
  readonly view: View;
  readonly onChange: (view: View) => void;
}

/** Whether the keyboard was on the views that have just gone: it goes on to those that take their place. */
let hadHand = false;

/** The views of a stage. Each brings the frame anew; the keyboard stays on them. */
export function ViewTabs<View extends string>({ label, names, view, onChange }: Props<View>) {
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const own = box.current;
    if (hadHand) own?.querySelector<HTMLInputElement>('input:checked')?.focus();
    hadHand = false;
    return () => {
      hadHand = own?.contains(document.activeElement) ?? false;
    };
  }, []);
  return (
    <SegmentedControl
      ref={box}
      size="xs"
      aria-label={label}
      data={Object.entries<string>(names).map(([value, name]) => ({ value, label: name }))}
      value={view}
      onChange={(value) => onChange(value as View)}
    />
  );
}
