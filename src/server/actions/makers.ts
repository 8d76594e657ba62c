/** The tables of what kinds bring along, made one. */
import type { CatalogueChange } from '../../core/planning/plan/step';
import type { ChangeMaker, Makers, TextMaker } from './step-context';
import { StepFailure } from '../errors/explain-error';

/** By the tables of all kinds. Throws for two changes or two texts of one name: which is meant could not be told. */
export function makersOf(
  changes: readonly Readonly<Record<string, ChangeMaker<never>>>[],
  texts: readonly Readonly<Record<string, TextMaker<never>>>[],
): Makers {
  const makers = oneTable(changes) as unknown as Map<string, ChangeMaker<CatalogueChange>>;
  const writers = oneTable(texts) as unknown as Map<string, TextMaker<unknown>>;
  for (const [type, { standsAlone, onDisk }] of makers)
    if (standsAlone && onDisk) throw new Error(`"${type}" is made with many others, where nobody looks at the disks.`);
  return {
    find: (type) => makers.get(type),
    change: (type) => known(makers.get(type), type),
    text: (what) => known(writers.get(what), what),
  };
}

function oneTable<T>(tables: readonly Readonly<Record<string, T>>[]): Map<string, T> {
  const all = new Map<string, T>();
  for (const [name, entry] of tables.flatMap((table) => Object.entries(table))) {
    if (all.has(name)) throw new Error(`Two kinds bring along "${name}".`);
    all.set(name, entry);
  }
  return all;
}

/** Journals of later versions may hold what this one cannot do. */
function known<Maker>(maker: Maker | undefined, name: string): Maker {
  if (maker === undefined) throw new StepFailure(`This version of Mill Shelf cannot do "${name}".`);
  return maker;
}
