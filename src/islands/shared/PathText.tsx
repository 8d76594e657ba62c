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

/** A path shortened in its folders, the file name whole; the full path on hover, one click copies it. */
export function PathText({ path, shelf, called, copy = true }: Props) {
  const folder = folderOf(path);
  const full = shelf ? `${shelf} / ${path}` : path;
  const lead = [shelf, folder].filter((part) => part !== undefined && part !== '').join(' / ');
  return (
    <span className="path" title={called === undefined ? full : `${called}: ${full}`}>
      {lead !== '' && called === undefined && <span className="folder">{lead} /</span>}
      <span className={called === undefined ? 'file' : 'file called'}>{called ?? fileName(path)}</span>
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
