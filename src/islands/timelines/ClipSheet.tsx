import { Button, SegmentedControl, Select, Textarea, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { noteForm, realNameForm } from '../../core/forms/atoms';
import { binName, nameOf, parentOf, isInside } from '../../core/project/bins';
import { CLIP_COLOURS } from '../../core/project/clip';
import type { BinEdit } from '../../core/forms/bin-edit';
import type { BinView } from '../../server/projects/views/bins';
import type { ClipView } from '../../server/projects/views/clip';
import { api } from '../shared/api';
import { tellError } from '../shared/notices';
import { PlayButton } from '../shared/player/PlayButton';
import { Poster } from '../shared/Poster';
import { StateSign } from '../shared/StateSign';
import { useItemUses } from './use-item-uses';
import { wrongBy } from '../shared/form/joi-form';
import { useTyped } from '../shared/form/use-typed';
import { ClipFiles } from './ClipFiles';
import { UseList } from './UseList';

interface Props {
  readonly projectId: string;
  readonly clip: ClipView | null;
  readonly bin: BinView | null;
  readonly bins: readonly BinView[];
  readonly onEdit: (edit: BinEdit) => Promise<boolean>;
  readonly onOpen: (timelineId: string, eventIndex: number) => void;
  readonly onBin: (path: string) => void;
}

/** The clip or bin in hand: its words can be changed here. */
export function ClipSheet({ projectId, clip, bin, bins, onEdit, onOpen, onBin }: Props) {
  if (clip) return <ClipWords projectId={projectId} clip={clip} bins={bins} onEdit={onEdit} onOpen={onOpen} />;
  if (bin) return <BinWords bin={bin} bins={bins} onEdit={onEdit} onBin={onBin} />;
  return (
    <div className="sheet-body">
      <div className="paper-title">Bins and clips</div>
      <p className="soft tight">
        A clip stands for its file, or for picture and sound files of one recording. Timelines that come in make clips; more are made from what is on
        the shelves. Drag clips onto bins, tick several to move them together.
      </p>
      <p className="soft tight">Nothing done here touches a file, and all of it can be taken back.</p>
    </div>
  );
}

type Draft = ReturnType<typeof useTyped>;

function NameAndNote({ label, name, note }: { label: string; name: Draft; note: Draft }) {
  return (
    <>
      <TextInput size="xs" label={label} maxLength={200} {...name} />
      <Textarea size="xs" label="Note" autosize minRows={2} maxRows={6} {...note} />
    </>
  );
}

function Colours({ value, onChange }: { value: string; onChange: (colour: string) => void }) {
  return (
    <div className="colours" role="radiogroup" aria-label="Colour">
      {['', ...CLIP_COLOURS].map((colour) => (
        <button
          type="button"
          key={colour}
          role="radio"
          aria-checked={value === colour}
          aria-label={colour || 'no colour'}
          title={colour || 'no colour'}
          onClick={() => onChange(colour)}
          className={`swatch ${colour}`}
        />
      ))}
    </div>
  );
}

function ClipWords({ projectId, clip, bins, onEdit, onOpen }: { clip: ClipView } & Pick<Props, 'projectId' | 'bins' | 'onEdit' | 'onOpen'>) {
  const change = (words: Extract<BinEdit, { do: 'change-clips' }>['change']) => onEdit({ do: 'change-clips', clipIds: [clip.id], change: words });
  const name = useTyped(clip.id, clip.name, { wrong: wrongBy(realNameForm), keep: (text) => change({ name: text }) });
  const note = useTyped(clip.id, clip.note, { wrong: wrongBy(noteForm(10_000)), isLong: true, keep: (text) => change({ note: text }) });
  const client = useQueryClient();
  const takeBack = () =>
    api
      .patch(`projects/${projectId}/clips`, { clipIds: [clip.id], unmatch: true })
      .then(() => client.invalidateQueries())
      .catch(tellError);
  const place = clip.items[0]?.place;
  const key = place ? `${place.shelfId}\n${place.path}` : clip.url || `clip ${clip.id}`;
  const uses = useItemUses(projectId, clip.events > 0 ? { timelineIds: 'all', countDisabled: true } : null, key);
  return (
    <div className="sheet-body">
      {clip.poster && clip.state === 'present' && <Poster itemId={clip.poster.itemId} frame={clip.poster.frame} />}
      {clip.poster && clip.state === 'present' && <PlayButton title={clip.name} item={{ itemId: clip.poster.itemId, label: 'source' }} />}
      <div className="sheet-fields">
        <NameAndNote label="Clip" name={name} note={note} />
        <Select
          size="xs"
          label="Bin"
          searchable
          data={[{ value: '', label: 'no bin' }, ...bins.map((entry) => ({ value: entry.path, label: entry.path.split('/').join(' / ') }))]}
          value={clip.binPath}
          allowDeselect={false}
          onChange={(binPath) => binPath !== null && void change({ binPath })}
        />
        <Colours value={clip.colour} onChange={(colour) => void change({ colour })} />
        <div>
          <div className="soft label-above">Events at another rate find its frames</div>
          <SegmentedControl
            size="xs"
            fullWidth
            aria-label="Conform"
            disabled={!clip.rateDiffers}
            data={[
              { value: 'by-time', label: 'at the same time' },
              { value: 'by-frame', label: 'frame for frame' },
            ]}
            value={clip.conform}
            onChange={(conform) => void change({ conform: conform as ClipView['conform'] })}
          />
          {!clip.rateDiffers && <div className="soft tiny">Its rate is the project’s: both are the same.</div>}
        </div>
      </div>
      <dl>
        <dt>State</dt>
        <dd>
          <StateSign state={clip.state} />
          {clip.linkedAt && clip.state === 'present' && <span className="soft"> from a copy</span>}
        </dd>
        {clip.marks && (
          <>
            <dt>Marks in, out</dt>
            <dd className="mono">
              {clip.marks.in ?? 'from its begin'}
              <br />
              {clip.marks.out ?? 'to its end'}
            </dd>
          </>
        )}
        {clip.matchedBy && (
          <>
            <dt>Linked</dt>
            <dd>
              by {clip.matchedBy}, not proven{' '}
              <button type="button" className="linkish" onClick={() => void takeBack()}>
                Take the link back
              </button>
            </dd>
          </>
        )}
        <dt>Made</dt>
        <dd>{{ timeline: 'by a timeline', list: 'by a list', hand: 'by hand' }[clip.madeBy]}</dd>
      </dl>
      <ClipFiles projectId={projectId} clip={clip} />
      {clip.items.some(({ place: at }) => at === null) && (
        <div>
          <div className="soft label-above">{clip.parts > 0 ? 'Whole file: never seen here' : 'Known by name alone'}</div>
          {clip.items.map(({ name: file, place: at }) =>
            at ? null : (
              <div key={file} className="mono">
                {file}
              </div>
            ),
          )}
        </div>
      )}
      {clip.events > 0 ? <UseList uses={uses} onOpen={onOpen} /> : <p className="soft">No timeline uses it.</p>}
    </div>
  );
}

function BinWords({ bin, bins, onEdit, onBin }: { bin: BinView } & Pick<Props, 'bins' | 'onEdit' | 'onBin'>) {
  const parent = parentOf(bin.path);
  const name = useTyped(bin.path, nameOf(bin.path), {
    wrong: wrongBy(realNameForm),
    keep: (text) =>
      onEdit({ do: 'rename-bin', path: bin.path, name: text }).then((done) => {
        if (done) onBin(below(parent, binName(text)));
        return done;
      }),
  });
  const note = useTyped(bin.path, bin.note, {
    wrong: wrongBy(noteForm(10_000)),
    isLong: true,
    keep: (text) => onEdit({ do: 'change-bin', path: bin.path, change: { note: text } }),
  });
  const outside = bins.filter(({ path }) => !isInside(path, bin.path));
  return (
    <div className="sheet-body">
      <div className="sheet-fields">
        <NameAndNote label="Bin" name={name} note={note} />
        <Select
          size="xs"
          label="Lies in"
          searchable
          data={[{ value: '', label: 'no other bin' }, ...outside.map(({ path }) => ({ value: path, label: path.split('/').join(' / ') }))]}
          value={parent}
          allowDeselect={false}
          onChange={(to) =>
            to !== null &&
            to !== parent &&
            void onEdit({ do: 'move-bin', path: bin.path, parent: to }).then((done) => done && onBin(below(to, nameOf(bin.path))))
          }
        />
        <Colours value={bin.colour} onChange={(colour) => void onEdit({ do: 'change-bin', path: bin.path, change: { colour } })} />
      </div>
      <dl>
        <dt>Clips in it</dt>
        <dd>{bin.clips}</dd>
      </dl>
      <Button
        size="xs"
        variant="default"
        onClick={() => void onEdit({ do: 'dissolve-bin', path: bin.path }).then((done) => done && onBin(''))}
        title="Its clips and bins go to the one above"
      >
        Take the bin away, keep its clips
      </Button>
    </div>
  );
}

/** Path of a bin in another; at the top where `parent` is empty. */
function below(parent: string, name: string): string {
  return parent === '' ? name : `${parent}/${name}`;
}
