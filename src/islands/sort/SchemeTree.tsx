import { useMemo } from 'react';
import { ruleWords } from '../../core/scheme/rule';
import { allFolders, REST, type Scheme } from '../../core/scheme/scheme';
import type { FolderFigures } from '../../core/planning/sort/sort-rows';
import { formatBytes, formatCount } from '../../core/words/figures';
import { Tree, type TreeNode } from '../shared/tree/Tree';
import { useShelfNames } from '../shared/use-shelf-names';

export const folderDropId = (id: string) => `into ${id}`;
export const folderDragId = (id: string) => `folder ${id}`;
/** Stands for all that is sorted. */
export const ALL = '';

interface FolderNode extends TreeNode {
  readonly rule: string;
  readonly figures: FolderFigures | null;
  readonly isMovable: boolean;
}

interface Props {
  readonly scheme: Scheme;
  readonly structure: 'scheme' | 'bins' | 'as-it-was';
  readonly figures: readonly FolderFigures[];
  readonly total: { readonly files: number; readonly bytes: number };
  readonly selected: string;
  readonly onSelect: (id: string) => void;
  /** Whether its folders can be dragged to another place. */
  readonly isEdited: boolean;
}

/** The standard folders with their rules in plain words, and what would land in each just now. */
export function SchemeTree({ scheme, structure, figures, total, selected, onSelect, isEdited }: Props) {
  const shelfName = useShelfNames();
  const nodes = useMemo((): FolderNode[] => {
    const known = new Map(figures.map((entry) => [entry.id, entry]));
    const all: FolderNode = {
      id: ALL,
      parent: null,
      name: 'All that is sorted',
      rule: '',
      figures: { id: ALL, ...total, inPlace: 0, renamed: 0 },
      isMovable: false,
    };
    if (structure !== 'scheme')
      return [
        all,
        ...figures.map((entry) => ({
          id: entry.id,
          parent: null,
          name: entry.id.split('/').join(' / ') || 'top',
          rule: '',
          figures: entry,
          isMovable: false,
        })),
      ];
    return [
      all,
      ...allFolders(scheme.folders).map(({ id, way }) => ({
        id,
        parent: way.at(-2)?.id ?? null,
        name: way.at(-1)!.name,
        rule: ruleWords(way.at(-1)!.rule, shelfName),
        figures: known.get(id) ?? null,
        isMovable: isEdited,
      })),
      { id: REST, parent: null, name: scheme.rest, rule: 'what no rule takes', figures: known.get(REST) ?? null, isMovable: false },
    ];
  }, [scheme, structure, figures, total.files, total.bytes, shelfName, isEdited]);
  return (
    <Tree
      label="Standard folders"
      nodes={nodes}
      selected={selected}
      onSelect={onSelect}
      title={({ name, rule, figures: own }) =>
        [name, rule, own ? `${formatCount(own.files)} files, ${formatCount(own.bytes)} bytes` : ''].filter((text) => text).join('\n')
      }
      drag={({ id, name, isMovable }) => (isMovable ? { id: folderDragId(id), words: name } : null)}
      dropId={({ id }) => folderDropId(id)}
      line={({ id, name, rule, figures: own }) => (
        <>
          <span className={id === REST && own && own.files > 0 ? 'name rest' : 'name'}>
            {name}
            {rule && <span className="rule"> {rule}</span>}
          </span>
          <span className={own && own.files > 0 ? 'lands' : 'lands soft'}>
            {own && own.files > 0 ? (
              <>
                {formatCount(own.files)} <span className="soft">{formatBytes(own.bytes)}</span>
              </>
            ) : (
              '–'
            )}
          </span>
        </>
      )}
    />
  );
}
