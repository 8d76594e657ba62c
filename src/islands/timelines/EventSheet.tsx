import type { DrawnEvent, SourceUse, TimelineView } from '../../server/api/views';
import { codecWords, lengthWords, pictureWords } from '../shelves/item-words';
import { frameToTimecode } from '../../core/time/timecode';
import { Bytes, plural } from '../shared/figures';
import { KeepBar } from '../shared/KeepBar';
import { StateSign } from '../shared/StateSign';

/** The event or source in hand: picture, points, item, who else uses it. */
export function EventSheet({ view, event, source }: { view: TimelineView; event: DrawnEvent | null; source: SourceUse | null }) {
  if (!event && !source) {
    const present = view.sources.filter((entry) => entry.state === 'present').length;
    return (
      <div className="sheet-body">
        <div className="soft" style={{ fontSize: 12.5 }}>
          {view.name}
        </div>
        <div className="big">
          {present} <small>of {plural(view.sources.length, 'source')} present</small>
        </div>
        <p className="soft" style={{ margin: 0 }}>
          Click an event or a source to see its picture, its points and who else uses it.
        </p>
        <dl>
          <dt>Starts at</dt>
          <dd className="mono">{frameToTimecode(view.startFrame, view.rate, view.dropFrame)}</dd>
          <dt>Tracks</dt>
          <dd>
            {view.tracks.filter((track) => track.kind === 'video').length} picture, {view.tracks.filter((track) => track.kind === 'audio').length}{' '}
            sound
          </dd>
          <dt>Brought in from</dt>
          <dd className="mono">{view.sourceName}</dd>
        </dl>
      </div>
    );
  }
  const range = event ? view.eventRanges[event.index] : undefined;
  const others = event
    ? view.tracks.flatMap((track) =>
        track.events
          .filter((entry) => entry.clipId === event.clipId && entry.index !== event.index)
          .map((entry) => ({ ...entry, track: track.name })),
      )
    : [];
  return (
    <div className="sheet-body">
      <div className="soft" style={{ fontSize: 12.5 }}>
        {event ? `Event${event.nestedIn ? ` in ${event.nestedIn}` : ''}` : 'Source'}
      </div>
      <div style={{ fontSize: 18, fontWeight: 650, lineHeight: 1.2 }}>{event?.name ?? source!.name}</div>
      {source?.itemId && source.facts?.video && source.state === 'present' ? (
        <img className="poster" alt="" src={`/api/items/${source.itemId}/poster?frame=${Math.max(0, range?.start ?? source.posterFrame)}`} />
      ) : (
        source && (
          <div className="poster soft" style={{ display: 'grid', placeItems: 'center' }}>
            {source.facts?.kind === 'audio' ? 'Sound only' : <StateSign state={source.state} />}
          </div>
        )
      )}
      <dl>
        {event && (
          <>
            <dt>State</dt>
            <dd>
              <StateSign state={event.state} />
            </dd>
            <dt>Record in</dt>
            <dd className="mono">{frameToTimecode(view.startFrame + event.start, view.rate, view.dropFrame)}</dd>
            <dt>Source in, out</dt>
            <dd className="mono">
              {event.sourceIn}
              <br />
              {event.sourceOut}
            </dd>
            {event.speed !== 1 && (
              <>
                <dt>Speed</dt>
                <dd>{event.speed === 0 ? 'held frame' : `${Math.round(event.speed * 10_000) / 100} %`}</dd>
              </>
            )}
          </>
        )}
        {source && (
          <>
            <dt>Item</dt>
            <dd className="mono">{source.name}</dd>
            {source.facts && (
              <>
                <dt>Codec</dt>
                <dd>{codecWords(source.facts)}</dd>
                <dt>Form</dt>
                <dd>{pictureWords(source.facts)}</dd>
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
            <dt>Used parts</dt>
            <dd>{source.used.length}</dd>
          </>
        )}
      </dl>
      {source && (
        <KeepBar
          lengthFrames={Math.max(1, source.lengthFrames)}
          used={source.used}
          kept={source.used}
          whole={false}
          title="Used parts over the full length"
        />
      )}
      {others.length > 0 && (
        <div>
          <div className="soft" style={{ fontSize: 12.5, marginBottom: 4 }}>
            Also used on this timeline
          </div>
          {others.slice(0, 6).map((other) => (
            <div key={other.index} style={{ display: 'flex', gap: 8, fontSize: 13 }}>
              <span style={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
                {other.track} {other.name}
              </span>
              <span className="mono">{frameToTimecode(view.startFrame + other.start, view.rate, view.dropFrame)}</span>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
