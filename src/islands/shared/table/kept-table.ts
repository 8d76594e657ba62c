/** What the user chose of a table, kept in this browser. */
import { useLocalStorage } from '@mantine/hooks';
import Joi from 'joi';

export interface KeptTable {
  readonly hidden: readonly string[];
  readonly order: readonly string[];
  readonly sizes: Readonly<Record<string, number>>;
  readonly sort: readonly { readonly id: string; readonly desc: boolean }[];
  readonly group: string | null;
}

export const AS_IT_COMES: KeptTable = { hidden: [], order: [], sizes: {}, sort: [], group: null };

const key = Joi.string().max(64);
const keptForm = Joi.object<KeptTable>({
  hidden: Joi.array().items(key).required(),
  order: Joi.array().items(key).required(),
  sizes: Joi.object().pattern(key, Joi.number().min(1)).required(),
  sort: Joi.array()
    .items(Joi.object({ id: key.required(), desc: Joi.boolean().required() }))
    .required(),
  group: key.allow(null).required(),
});

/** What was kept by another version, or written by hand, must not keep a list from being shown. */
function read(text: string | undefined): KeptTable {
  try {
    const result = keptForm.validate(JSON.parse(text ?? 'null'));
    return result.error ? AS_IT_COMES : (result.value ?? AS_IT_COMES);
  } catch {
    return AS_IT_COMES;
  }
}

/** `name`: of the table. */
export function useKeptTable(name: string): [KeptTable, (next: KeptTable | ((old: KeptTable) => KeptTable)) => void] {
  const [kept, keep] = useLocalStorage<KeptTable>({
    key: `mill-shelf table ${name}`,
    defaultValue: AS_IT_COMES,
    getInitialValueInEffect: false,
    deserialize: read,
  });
  return [kept, keep];
}
