import { ActionIcon, CopyButton, Tooltip } from '@mantine/core';
import { fileName, folderOf } from '../../core/media/item';
import { IconCheck, IconCopy } from './icons';

/** A path shortened in its folders, the file name whole; the full path on hover, one click copies it. */
export function PathText({ path, shelf, copy = true }: { path: string; shelf?: string | undefined; copy?: boolean }) {
  const folder = folderOf(path);
  const full = shelf ? `${shelf} / ${path}` : path;
  const lead = [shelf, folder].filter((part) => part !== undefined && part !== '').join(' / ');
  return (
    <span className="path" title={full}>
      {lead !== '' && <span className="folder">{lead} /</span>}
      <span className="file">{fileName(path)}</span>
      {copy && (
        <CopyButton value={full}>
          {({ copied, copy: doCopy }) => (
            <Tooltip label={copied ? 'Copied' : 'Copy the place'} withArrow>
              <ActionIcon
                size={18}
                variant="subtle"
                color="gray"
                aria-label={`Copy ${full}`}
                onClick={(event) => (event.stopPropagation(), doCopy())}
              >
                {copied ? <IconCheck size={12} /> : <IconCopy size={12} />}
              </ActionIcon>
            </Tooltip>
          )}
        </CopyButton>
      )}
    </span>
  );
}
