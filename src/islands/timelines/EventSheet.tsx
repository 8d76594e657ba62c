import type { DrawnEvent, SourceUse, TimelineView } from '../../server/projects/views/timeline';
import { codecWords, lengthWords, pictureWords } from '../shelves/item-words';
import { frameToTimecode } from '../../core/time/timecode';
import { Bytes, plural } from '../shared/figures';
import { KeepBar } from '../shared/KeepBar';
import { PlayButton } from '../shared/player/PlayButton';
import { Poster } from '../shared/Poster';
import { StateSign } from '../shared/StateSign';
import { CountChoice } from './CountChoice';
import { speedWords } from './draw-timeline';
import { useItemUses } from './use-item-uses';
import { UseList } from './UseList';

interface Props {
  readonly projectId: string;
  readonly view: TimelineView;
  readonly event: DrawnEvent | null;
  readonly source: SourceUse | null;
  readonly onOpen: (timelineId: string, eventIndex: number) => void;
  /** The timeline is known under another id. */
  readonly onCounted: (timelineId: string) => void;
}

/** The event or source in hand: picture, points, item, who else uses it. */
export function EventSheet({ projectId, view, event, source, onOpen, onCounted }: Props) {
  if (!event && !source) return <TimelineSheet projectId={projectId} view={view} onCounted={onCounted} />;
  const { reads } = event ?? {};
  const unit = source?.facts?.kind === 'audio' ? 'samples' : 'frames';
  return (
    <div className="sheet-body">
      <div>
        <div className="soft small">{event ? `Event${event.nestedIn ? ` in ${event.nestedIn}` : ''}` : 'Source'}</div>
        <div className="paper-title">{event?.name ?? source!.name}</div>
      </div>
      {source?.itemId && source.facts?.video && source.state === 'present' ? (
        <Poster itemId={source.itemId} frame={reads?.start ?? source.posterFrame} />
      ) : (
        <div className="poster soft centred">
          {source?.facts?.kind === 'audio' ? 'Sound only' : <StateSign state={event?.state ?? source?.state ?? 'made-here'} />}
        </div>
      )}
      {source?.itemId && source.state === 'present' && isPlayed(source.facts?.kind) && (
        <PlayButton
          title={event?.name || source.name}
          item={{ itemId: source.itemId, label: 'source', ...(reads && source.facts?.kind !== 'audio' ? { range: reads } : {}) }}
        />
      )}
      <dl>
        {event && (
          <>
            <dt>State</dt>
            <dd>
              <StateSign state={event.state} />
              {!event.enabled && ' · switched off'}
            </dd>
            <dt>Record in, out</dt>
            <dd className="mono">
              {frameToTimecode(view.startFrame + event.start, view.rate, view.dropFrame)}
              <br />
              {frameToTimecode(view.startFrame + event.start + event.durationFrames, view.rate, view.dropFrame)}
            </dd>
            <dt>Source in, out</dt>
            <dd className="mono">
              {event.sourceIn}
              <br />
              {event.sourceOut}
            </dd>
            <CountChoice projectId={projectId} view={view} event={event} onCounted={onCounted} />
            {event.speed !== 1 && (
              <>
                <dt>Speed</dt>
                <dd>{speedWords(event.speed)}</dd>
              </>
            )}
            {reads && (
              <>
                <dt>Reads of the item</dt>
                <dd className="mono" title={`${unit} ${reads.start} to ${reads.end - 1}, both included`}>
                  {plural(reads.end - reads.start, unit.slice(0, -1))}
                </dd>
              </>
            )}
            {event.markers?.map((marker) => (
              <div key={marker.at} className="terms">
                <dt>Mark</dt>
                <dd>{marker.name || marker.colour.toLowerCase()}</dd>
              </div>
            ))}
          </>
        )}
        {source && (
          <>
            <dt>Item</dt>
            <dd className="mono">{source.name}</dd>
            {source.reel && (
              <>
                <dt>Reel</dt>
                <dd className="mono">{source.reel}</dd>
              </>
            )}
            {source.facts && (
              <>
                <dt>Codec</dt>
                <dd>
                  {codecWords(source.facts)} · {pictureWords(source.facts)}
                </dd>
                <dt>Full length</dt>
                <dd className="mono">{lengthWords(source.facts)}</dd>
              </>
            )}
            {source.sizeBytes !== null && (
              <>
                <dt>Size</dt>
                <dd>
                  <Bytes value={source.sizeBytes} />
                </dd>
              </>
            )}
          </>
        )}
      </dl>
      {source && <ItemUse projectId={projectId} source={source} here={view.id} event={event} onOpen={onOpen} />}
    </div>
  );
}

/** Stills stand still. */
function isPlayed(kind: string | undefined): boolean {
  return kind === 'video' || kind === 'audio' || kind === 'sequence';
}

function TimelineSheet({ projectId, view, onCounted }: Pick<Props, 'projectId' | 'view' | 'onCounted'>) {
  const present = view.sources.filter((entry) => entry.state === 'present').length;
  return (
    <div className="sheet-body">
      <div className="soft small">{view.name}</div>
      <div className="big">
        {present} <small>of {plural(view.sources.length, 'source')} present</small>
      </div>
      <p className="soft tight">
        Click an event or a source to see its picture, its points and who else uses it. A nested timeline opens where it stands.
      </p>
      <dl>
        <dt>Starts at</dt>
        <dd className="mono">{frameToTimecode(view.startFrame, view.rate, view.dropFrame)}</dd>
        <dt>Tracks</dt>
        <dd>
          {view.tracks.filter((track) => track.kind === 'video').length} picture, {view.tracks.filter((track) => track.kind === 'audio').length} sound
        </dd>
        <dt>Marks</dt>
        <dd>{marksWords(view)}</dd>
        <CountChoice projectId={projectId} view={view} event={null} onCounted={onCounted} />
        <dt>Brought in from</dt>
        <dd className="mono">{view.sourceName}</dd>
      </dl>
    </div>
  );
}

/** The item over all timelines of the project: its keep bar, and everyone who uses it. */
function ItemUse({ projectId, source, here, event, onOpen }: { source: SourceUse; here: string } & Pick<Props, 'projectId' | 'event' | 'onOpen'>) {
  const but = event ? { timelineId: here, eventIndex: event.index } : undefined;
  const uses = useItemUses(projectId, { timelineIds: 'all', countDisabled: true, but }, source.key);
  const used = uses.item?.used ?? source.used;
  return (
    <>
      <div>
        <div className="soft label-above">Used of the whole item, by all timelines</div>
        <KeepBar lengthFrames={Math.max(1, source.lengthFrames)} used={used} kept={used} whole={false} title="Used parts over the full length" />
      </div>
      <UseList also={event !== null} uses={uses} onOpen={onOpen} />
    </>
  );
}

/** Marks of the timeline itself and those on its clips. */
function marksWords({ markers, tracks }: TimelineView): string {
  const onClips = tracks.reduce((sum, { events }) => sum + events.reduce((all, event) => all + (event.markers?.length ?? 0), 0), 0);
  if (markers.length + onClips === 0) return 'none';
  return onClips === 0 ? String(markers.length) : `${markers.length + onClips}, of which ${onClips} on clips`;
}
