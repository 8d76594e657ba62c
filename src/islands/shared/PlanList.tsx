import { Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useState, type ReactNode } from 'react';
import { Empty } from './Empty';
import { Face, StaleNote } from './Face';
import { IconSearch } from './icons';
import { rowSteps, type RowSteps } from './player/ShotPair';
import { sortedBy } from './table/column';
import { useOrder } from './table/use-order';
import { useWindow } from './table/use-window';
import { VirtualTable, type Column, type HeldOrder } from './table/VirtualTable';
import { useAddressPlace, useAddressWord } from './use-address';
import type { PlanState } from './use-plan';

interface Props<Row> {
  readonly projectId: string;
  readonly kind: string;
  readonly state: PlanState<unknown>;
  /** Settings that the list is asked with: the newest, where they are not those of the plan shown. */
  readonly settings?: unknown;
  readonly label: string;
  /** What the list is sorted by to begin with. */
  readonly sort: string;
  readonly columns: readonly Column<Row>[];
  readonly order?: HeldOrder;
  readonly rowKey: (row: Row) => string;
  /** What a row is: "clip", "event". */
  readonly noun: string;
  readonly find: string;
  /** Parts of the list; null where it has none. */
  readonly groups: readonly { readonly value: string; readonly label: string }[] | null;
  readonly empty: ReactNode;
  /** What stands below the list, of the row in hand. */
  readonly children?: (row: Row, step: RowSteps) => ReactNode;
}

/** What a plan lists, in windows: found by words, narrowed to a part, one row in hand. */
export function PlanList<Row>(props: Props<Row>) {
  const { projectId, kind, state, settings = state.settings, label, columns, order: held, rowKey, noun, find, groups, empty, children } = props;
  const [group, setGroup] = useAddressPlace('show');
  const [word, setWord] = useAddressWord('filter');
  const [filter] = useDebouncedValue(word ?? '', 150);
  const order = useOrder(label, [props.sort, ...sortedBy(columns)]);
  const [selected, select] = useState<string | null>(null);
  // An address may name a part of another list.
  const part = groups?.some(({ value }) => value === group) ? (group ?? '') : '';
  const list = useWindow<Row>(['plan', 'rows', kind], state.plan && settings !== null ? 'plans/rows' : null, {
    projectId,
    kind,
    settings,
    group: part,
    filter,
    sort: order.key,
    down: order.down,
  });
  const shown = list.rows.find((row) => row !== undefined && rowKey(row) === selected);
  return (
    <>
      <div className="controls">
        <TextInput
          data-filter=""
          size="xs"
          flex={1}
          placeholder={`Find by ${find}`}
          aria-label={`Find ${/^[aeiou]/.test(noun) ? 'an' : 'a'} ${noun}`}
          leftSection={<IconSearch size={14} />}
          value={word ?? ''}
          onChange={(event) => setWord(event.currentTarget.value)}
        />
        {groups && (
          <Select
            size="xs"
            w={196}
            aria-label={`Which ${noun}s`}
            data={[...groups]}
            value={part}
            allowDeselect={false}
            onChange={(value) => setGroup(value === '' ? null : value)}
          />
        )}
      </div>
      {!state.plan ? (
        <Face asked={state.asked} lines={10}>
          {null}
        </Face>
      ) : (
        <>
          <StaleNote asked={state.asked} />
          <VirtualTable
            label={label}
            asked={list.asked}
            rows={list.rows}
            pages={list}
            columns={columns}
            {...(held ? { order: held } : {})}
            sort={order}
            onSort={order.sortBy}
            rowKey={rowKey}
            selected={selected}
            onSelect={select}
            empty={(word ?? '') !== '' || part !== '' ? <Empty title={`No ${noun} is like that`}>{null}</Empty> : empty}
          />
          {shown !== undefined &&
            children?.(
              shown,
              rowSteps(
                list.rows.flatMap((row) => (row === undefined ? [] : [rowKey(row)])),
                selected,
                select,
              ),
            )}
        </>
      )}
    </>
  );
}
