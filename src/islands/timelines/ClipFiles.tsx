import { useQuery, useQueryClient } from '@tanstack/react-query';
import { samePlace } from '../../core/media/item';
import type { ClipFileView, ClipView } from '../../server/projects/views/clip';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tellError } from '../shared/notices';
import { PathText } from '../shared/PathText';
import { dayOf } from '../shared/dates';

/** Where the files of a clip stand: copies of its source, parts of it, earlier deliveries. */
export function ClipFiles({ projectId, clip }: { projectId: string; clip: ClipView }) {
  const client = useQueryClient();
  const files = useQuery({
    queryKey: ['clip-files', projectId, clip.id],
    queryFn: () => api.get(`projects/${projectId}/clips/${clip.id}`),
  });
  const head = useQuery({ queryKey: ['project', projectId], queryFn: () => api.get(`projects/${projectId}`) });
  const ask = (work: Promise<unknown>) => void work.then(() => client.invalidateQueries()).catch(tellError);
  const readFrom = (place: ClipFileView['place'] | null) => ask(api.patch(`projects/${projectId}/clips`, { clipIds: [clip.id], readFrom: place }));
  const drives = head.data?.drives ?? [];
  const preferDrive = (shelfId: string) => ask(api.patch(`projects/${projectId}`, { drives: [shelfId, ...drives.filter((id) => id !== shelfId)] }));
  const leaveDrive = (shelfId: string) => ask(api.patch(`projects/${projectId}`, { drives: drives.filter((id) => id !== shelfId) }));
  const rows = files.data ?? [];
  if (rows.length === 0) return null;
  const standing = rows.filter(({ of, isGone, position }) => of === 'source' && !isGone && position === 0).length;
  return (
    <div className="clip-files">
      <div className="soft label-above">{standing > 1 ? `${plural(standing, 'copy', 'copies')}, equal in every byte` : 'File'}</div>
      <ul>
        {rows.map((file) => (
          <li key={`${file.of} ${file.position} ${file.place.shelfId} ${file.place.path}`} className={file.isRead ? 'read' : undefined}>
            <PathText path={file.place.path} shelf={file.shelfName} />
            <div className="tiny soft">{wordsOf(file)}</div>
            {file.of === 'source' && !file.isGone && standing > 1 && (
              <div className="tiny reads">
                {file.isChosen ? (
                  <button type="button" className="linkish" onClick={() => readFrom(null)}>
                    Read as the project does
                  </button>
                ) : (
                  !file.isRead && (
                    <button type="button" className="linkish" onClick={() => readFrom(file.place)}>
                      Read this clip from here
                    </button>
                  )
                )}
                {drives[0] === file.place.shelfId ? (
                  <button type="button" className="linkish" onClick={() => leaveDrive(file.place.shelfId)}>
                    Do not read {file.shelfName} first any more
                  </button>
                ) : (
                  !file.isRead && (
                    <button type="button" className="linkish" onClick={() => preferDrive(file.place.shelfId)}>
                      Read {file.shelfName} first, for all clips
                    </button>
                  )
                )}
              </div>
            )}
          </li>
        ))}
      </ul>
      {clip.linkedAt && !rows.some((file) => file.isRead && samePlace(file.place, clip.linkedAt)) && (
        <p className="tiny soft tight">It goes back to the linked file by itself where that would be read first.</p>
      )}
    </div>
  );
}

function wordsOf(file: ClipFileView): string {
  const what = file.of === 'part' ? (file.holds ?? 'holds a part') : file.of === 'earlier' ? 'an earlier delivery' : file.isRead ? 'read now' : '';
  const where = file.isGone ? 'not there any more' : file.isAttached ? '' : 'not plugged in';
  return [
    what,
    file.isLinked && file.of === 'source' && !file.isRead ? 'linked' : '',
    where,
    file.isOwn ? 'the project’s own folder' : '',
    file.crate === null ? '' : `in the crate ${file.crate}`,
    file.seenAt === null ? '' : `seen ${dayOf(file.seenAt)}`,
    file.verifiedAt === null ? '' : `verified ${dayOf(file.verifiedAt)}`,
  ]
    .filter((word) => word !== '')
    .join(' · ');
}
