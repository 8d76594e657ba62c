import { useState } from 'react';
import { fileName, folderOf } from '../../core/media/item';
import { copyText } from './copy-text';
import { IconCheck, IconCopy, IconMissing } from './icons';

interface Props {
  readonly path: string;
  readonly shelf?: string | undefined;
  /** What stands in its place: the path is seen on hover then. */
  readonly called?: string | undefined;
  readonly copy?: boolean;
}

/** A place folded in its middle: shelf, the nearest folder, the file name; all of it on hover, one click copies it. */
export function PathText({ path, shelf, called, copy = true }: Props) {
  const folder = folderOf(path);
  const full = shelf ? `${shelf} / ${path}` : path;
  const isPlace = called === undefined;
  return (
    <span className="path" title={isPlace ? full : `${called}: ${full}`}>
      {isPlace && shelf && <span className="shelf">{`${shelf} /\u00a0`}</span>}
      {isPlace && folder !== '' && (
        <span className="folder">
          <bdi>{`${folder} /\u00a0`}</bdi>
        </span>
      )}
      <span className={isPlace ? 'file' : 'file called'}>{called ?? fileName(path)}</span>
      {copy && <CopyPath full={full} />}
    </span>
  );
}

/** Light, as it stands in every row. */
function CopyPath({ full }: { full: string }) {
  const [word, setWord] = useState<'copied' | 'failed' | null>(null);
  const copy = () =>
    void copyText(full).then((done) => {
      setWord(done ? 'copied' : 'failed');
      setTimeout(() => setWord(null), 1500);
    });
  return (
    <button
      type="button"
      className="copy"
      aria-label={`Copy ${full}`}
      title={word === null ? 'Copy the place' : word === 'copied' ? 'Copied' : 'The browser does not allow it: mark the text and copy it'}
      onClick={(event) => (event.stopPropagation(), copy())}
    >
      {word === 'copied' ? <IconCheck size={12} /> : word === 'failed' ? <IconMissing size={12} /> : <IconCopy size={12} />}
    </button>
  );
}
