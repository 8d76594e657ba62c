import { ActionIcon, Button, Checkbox, Popover, Select } from '@mantine/core';
import { memo } from 'react';
import { IconColumns, IconLeft, IconRight } from '../icons';
import type { TableColumns } from './use-table';

interface Props {
  readonly label: string;
  readonly columns: TableColumns<never>;
  /** Keeps the list as it stands. */
  readonly onKeep: (as: 'csv' | 'html') => void;
}

/** Which columns are there and in what order; grouping where the list allows it; the list as a file. */
export const ColumnMenu = memo(function ColumnMenu({ label, columns, onKeep }: Props) {
  const shown = columns.choosable.filter(({ isShown }) => isShown).length;
  const groupable = columns.choosable.filter(({ column }) => column.group);
  return (
    <Popover position="bottom-end" trapFocus returnFocus withinPortal>
      <Popover.Target>
        <ActionIcon
          className="column-menu"
          size={22}
          variant="subtle"
          color="gray"
          aria-label={`Columns of ${label}`}
          title="Columns; keep this list"
        >
          <IconColumns size={14} />
        </ActionIcon>
      </Popover.Target>
      <Popover.Dropdown p={10} aria-label={`Columns of ${label}`}>
        {columns.choosable.map(({ column, isShown }, index) => (
          <div className="column-choice" key={column.key}>
            <Checkbox
              size="xs"
              label={column.title}
              checked={isShown}
              disabled={isShown && shown === 1}
              onChange={(event) => columns.show(column.key, event.currentTarget.checked)}
            />
            <ActionIcon
              size={24}
              variant="subtle"
              color="gray"
              aria-label={`Move ${column.title} to the left`}
              disabled={index === 0}
              onClick={() => columns.shift(column.key, -1)}
            >
              <IconLeft size={14} />
            </ActionIcon>
            <ActionIcon
              size={24}
              variant="subtle"
              color="gray"
              aria-label={`Move ${column.title} to the right`}
              disabled={index === columns.choosable.length - 1}
              onClick={() => columns.shift(column.key, 1)}
            >
              <IconRight size={14} />
            </ActionIcon>
          </div>
        ))}
        {groupable.length > 0 && (
          <Select
            mt={8}
            size="xs"
            label="Put together by"
            data={[{ value: '', label: 'nothing' }, ...groupable.map(({ column }) => ({ value: column.key, label: column.title.toLowerCase() }))]}
            value={columns.group ?? ''}
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            onChange={(key) => columns.groupBy(key === '' ? null : key)}
          />
        )}
        <Button mt={8} size="compact-xs" variant="subtle" disabled={!columns.isChanged} onClick={columns.reset}>
          As they were
        </Button>
        <div className="keep-list">
          <Button size="xs" variant="default" title="A page to print, with what the list shows" onClick={() => onKeep('html')}>
            Keep as a page
          </Button>
          <Button size="xs" variant="default" title="CSV, with hidden columns too" onClick={() => onKeep('csv')}>
            Keep as a table
          </Button>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
});
