import { Select } from '@mantine/core';

interface Props<Value extends string> {
  readonly label: string;
  /** What can be chosen, with its words, in order. */
  readonly options: readonly (readonly [value: Value, words: string])[];
  readonly value: Value;
  readonly onChange: (value: Value) => void;
  readonly width?: number;
}

/** One of a few choices, labelled for screen readers. */
export function Choice<Value extends string>({ label, options, value, onChange, width }: Props<Value>) {
  return (
    <Select
      size="xs"
      {...(width === undefined ? {} : { w: width })}
      aria-label={label}
      data={options.map(([own, words]) => ({ value: own, label: words }))}
      value={value}
      allowDeselect={false}
      onChange={(next) => next !== null && onChange(next as Value)}
    />
  );
}
