import { Button, Select } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { rateLabel, type Rate } from '../../core/time/rate';
import type { SourceCount } from '../../core/project/source-count';
import type { DrawnEvent, TimelineView } from '../../server/projects/views/timeline';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { tell, tellError } from '../shared/notices';

interface Props {
  readonly projectId: string;
  readonly view: TimelineView;
  /** Null: the whole timeline. */
  readonly event: DrawnEvent | null;
  /** The timeline has another id from then on. */
  readonly onCounted: (timelineId: string) => void;
}

const WORDS: Readonly<Record<SourceCount, (list: Rate) => string>> = {
  list: (list) => `Frames of the list (${rateLabel(list)})`,
  source: () => 'Frames of the source',
};

/** In which frames source timecode is counted: of a timeline, or of one of its events. Nothing where all sources run at its rate. */
export function CountChoice({ projectId, view, event, onCounted }: Props) {
  const client = useQueryClient();
  const [isBusy, setBusy] = useState(false);
  const { counts } = view;
  const own = event ? event.count : counts;
  if (!own || !counts) return null;
  const change = async (chosen: SourceCount | null) => {
    setBusy(true);
    try {
      const body = { sourceCount: chosen, ...(event ? { events: [event.index] } : {}) };
      const { timelineId } = await api.patch(`projects/${projectId}/timelines/${view.id}`, body);
      await client.invalidateQueries();
      onCounted(timelineId);
      tell('Source timecode is counted anew', event ? 'For this event. The record side stays as it is.' : 'The record side stays as it is.');
    } catch (error) {
      tellError(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <dt>Source timecode</dt>
      <dd>
        <Select
          size="xs"
          aria-label="Source timecode"
          disabled={isBusy}
          allowDeselect={false}
          comboboxProps={{ withinPortal: true }}
          data={[
            { value: 'media', label: event ? 'As the timeline' : 'Decided by the media' },
            { value: 'source', label: WORDS.source(view.rate) },
            { value: 'list', label: WORDS.list(view.rate) },
          ]}
          value={own.chosen ?? 'media'}
          onChange={(value) => void change(value === 'media' ? null : (value as SourceCount))}
        />
        <div className="soft small">
          {event?.count
            ? `Counted in ${event.count.as === 'source' ? `frames of the source (${rateLabel(event.count.sourceRate)})` : `frames of the list (${rateLabel(view.rate)}); the source runs at ${rateLabel(event.count.sourceRate)}`}.`
            : `${counts.bySource} of ${plural(counts.events, 'event')} in frames of the source`}
        </div>
        {!event && counts.isOutdated && (
          <>
            <div className="small">Media linked since then fits another count.</div>
            <Button size="compact-xs" variant="default" disabled={isBusy} onClick={() => void change(counts.chosen)}>
              Count again by the media
            </Button>
          </>
        )}
      </dd>
    </>
  );
}
