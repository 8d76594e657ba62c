import { ActionIcon, Checkbox, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import type { TakeAlongSettings, TakeRow } from '../../core/planning/take-along/settings';
import type { KindSum } from '../../core/planning/take-along/take-along';
import { below, fileName, folderOf, samePlace, type Place } from '../../core/media/item';
import { atHome, rootOf, type HomeKind } from '../../core/rendition/homes';
import { RENDITION_KINDS, type RenditionKind } from '../../core/rendition/read-order';
import { api } from '../shared/api';
import { Bytes, plural } from '../shared/figures';
import { IconHome } from '../shared/icons';
import { tellError } from '../shared/notices';
import { PlacePicker } from '../shared/PlacePicker';
import { useProject } from '../shared/questions';

export const KIND_NAMES: Readonly<Record<RenditionKind, string>> = {
  source: 'Sources',
  mezzanine: 'Mezzanines',
  proxy: 'Proxies',
  finished: 'Finished',
};

interface Props {
  readonly projectId: string;
  readonly rows: TakeAlongSettings['rows'];
  readonly sums: readonly KindSum[] | null;
  readonly shelfName: (id: string) => string;
  readonly onChange: (rows: TakeAlongSettings['rows']) => void;
}

/** Kind by kind: how much there is of it, where it stands and is at home, and where it goes. */
export function TakeKinds({ projectId, rows, sums, shelfName, onChange }: Props) {
  const { data: project } = useProject(projectId);
  const homes = project?.homes ?? {};
  const client = useQueryClient();
  const setHome = (kind: HomeKind, home: Place | null) =>
    void api
      .patch(`projects/${projectId}`, { homes: { [kind]: home } })
      .then(() => client.invalidateQueries())
      .catch(tellError);
  return (
    <section className="panel take-kinds" aria-label="What is taken along">
      {RENDITION_KINDS.map((kind) => {
        const row = atHome(rows[kind], homes[kind]);
        return (
          <KindRow
            key={kind}
            kind={kind}
            row={row}
            home={homes[kind] ?? null}
            sum={sums?.find((own) => own.kind === kind) ?? null}
            shelfName={shelfName}
            onHome={(home) => setHome(kind, home)}
            onChange={(part) => {
              // The same drive as the others, until another is chosen.
              const other = RENDITION_KINDS.map((own) => rows[own]).find(({ isTaken, destination }) => isTaken && destination);
              const own = part.isTaken && row.destination === null && other ? { destination: other.destination } : {};
              // Whoever changes one of both has seen the other.
              const where = part.isTaken === undefined ? { destination: row.destination, folderName: row.folderName } : {};
              onChange({ ...rows, [kind]: { ...rows[kind], ...where, ...part, ...own } });
            }}
          />
        );
      })}
      <CacheRow home={homes.cache ?? null} shelfName={shelfName} onHome={(home) => setHome('cache', home)} />
    </section>
  );
}

interface CacheProps {
  readonly home: Place | null;
  readonly shelfName: (id: string) => string;
  readonly onHome: (home: Place | null) => void;
}

/** Nothing of it is taken along: it is made anew when it is gone. */
function CacheRow({ home, shelfName, onHome }: CacheProps) {
  const words = home ? `previews for playing · at home in ${shelfName(home.shelfId)} / ${home.path}` : 'previews for playing · kept by the server itself'; // prettier-ignore
  return (
    <div className="line">
      <span className="kind-name">Caches</span>
      <span className="soft about" title={words}>
        previews for playing{home ? '' : ', kept by the server'}
      </span>
      <PlacePicker
        label="Shelf for the caches"
        value={home && { ...home, path: folderOf(home.path) }}
        onChange={(place) => place && onHome(below(place, home ? fileName(home.path) : 'Caches'))}
      />
      <span className="mono soft">{home ? fileName(home.path) : ''}</span>
      <ActionIcon
        size={24}
        variant={home ? 'filled' : 'subtle'}
        color={home ? 'spruce' : 'gray'}
        disabled={!home}
        aria-pressed={home !== null}
        aria-label="Home of the caches"
        title={home ? 'Previews of this project are at home here. Press to have the server keep them' : 'Choose a shelf first'}
        onClick={() => onHome(null)}
      >
        <IconHome size={14} />
      </ActionIcon>
    </div>
  );
}

interface KindProps {
  readonly kind: RenditionKind;
  readonly row: TakeRow;
  readonly home: Place | null;
  readonly sum: KindSum | null;
  readonly shelfName: (id: string) => string;
  readonly onChange: (part: Partial<TakeRow>) => void;
  readonly onHome: (home: Place | null) => void;
}

function KindRow({ kind, row, home, sum, shelfName, onChange, onHome }: KindProps) {
  const noun = KIND_NAMES[kind].toLowerCase();
  const stands = (sum?.stands ?? []).map(({ shelfId, files }) => `${files} on ${shelfName(shelfId)}`).join(', ');
  const none = sum !== null && sum.clips === 0 && kind !== 'proxy';
  const root = rootOf(row);
  const isHome = samePlace(root, home);
  const homeWords = home && `at home in ${shelfName(home.shelfId)} / ${home.path}`;
  const words = [sum && sum.files > 0 && `${plural(sum.files, 'file')}: ${stands}`, homeWords].filter(Boolean).join(' · ');
  return (
    <div className="line">
      <Checkbox
        size="xs"
        label={KIND_NAMES[kind]}
        checked={row.isTaken}
        disabled={none && !row.isTaken}
        onChange={(event) => onChange({ isTaken: event.currentTarget.checked })}
      />
      {sum && sum.files > 0 ? <Bytes value={sum.bytes} /> : <span className="soft">{sum ? 'none' : ''}</span>}
      {row.isTaken ? (
        <>
          <PlacePicker label={`Shelf for the ${noun}`} value={row.destination} onChange={(destination) => onChange({ destination })} />
          <TextInput
            size="xs"
            aria-label={`Folder for the ${noun}`}
            value={row.folderName}
            onChange={(event) => onChange({ folderName: event.currentTarget.value })}
            classNames={{ input: 'mono-input' }}
          />
          <ActionIcon
            size={24}
            variant={isHome ? 'filled' : 'subtle'}
            color={isHome ? 'spruce' : 'gray'}
            disabled={!root || row.folderName.trim() === ''}
            aria-pressed={isHome}
            aria-label={`Home of the ${noun}`}
            title={isHome ? `The ${noun} are at home here. Press to have no home` : `Make this the home of the ${noun}: nothing is copied for it`}
            onClick={() => onHome(isHome ? null : root)}
          >
            <IconHome size={14} />
          </ActionIcon>
        </>
      ) : (
        <span className="soft stays">stays behind</span>
      )}
      {words !== '' && (
        <span className="stands soft" title={words}>
          {words}
        </span>
      )}
    </div>
  );
}
