import { Select } from '@mantine/core';
import { CLIP_LIST_FIELDS, type ClipListField, type ColumnMap, type TablePreview } from '../../core/interchange/clip-list/clip-list-types';

interface Props {
  readonly table: TablePreview;
  readonly columns: ColumnMap;
  readonly onChange: (columns: ColumnMap) => void;
}

const LEFT_OUT = 'left out';

/** The first rows of a clip list, with what each column is taken as. */
export function ColumnChoice({ table, columns, onChange }: Props) {
  const fieldOf = (column: number) => CLIP_LIST_FIELDS.find((field) => columns[field] === column) ?? LEFT_OUT;
  const choose = (column: number, field: string | null) => {
    const next = Object.fromEntries(Object.entries(columns).filter(([name, at]) => name !== field && at !== column));
    onChange(field === null || field === LEFT_OUT ? next : { ...next, [field as ClipListField]: column });
  };
  return (
    <div className="panel table-look">
      <table>
        <thead>
          <tr>
            {table.columns.map((title, column) => (
              <th key={column}>
                <Select
                  size="xs"
                  aria-label={`Column ${title}`}
                  data={[LEFT_OUT, ...CLIP_LIST_FIELDS]}
                  value={fieldOf(column)}
                  allowDeselect={false}
                  onChange={(field) => choose(column, field)}
                  classNames={fieldOf(column) === LEFT_OUT ? { input: 'soft' } : {}}
                />
                <span className="soft">{title}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, index) => (
            <tr key={index}>
              {table.columns.map((_, column) => (
                <td key={column} className={fieldOf(column) === LEFT_OUT ? 'soft' : undefined}>
                  {row[column]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {table.rowCount > table.rows.length && <div className="soft more">and {table.rowCount - table.rows.length} more rows</div>}
    </div>
  );
}
