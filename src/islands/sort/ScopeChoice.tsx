import { Checkbox, SegmentedControl } from '@mantine/core';
import { samePlace } from '../../core/media/item';
import type { SortDetail } from '../../core/planning/sort/sort';
import { formatBytes } from '../../core/words/figures';
import { Choice } from '../shared/form/Choice';
import { TimelinesPick } from '../shared/form/TimelinesPick';
import { plural } from '../shared/figures';
import { PlacePicker } from '../shared/PlacePicker';
import { useTimelines } from '../shared/questions';
import type { SortChoices } from './use-sort';
import { useWatched } from './use-watched';

interface Props {
  readonly projectId: string;
  readonly choices: SortChoices;
  readonly onChange: (change: Partial<SortChoices>) => void;
  readonly extra: SortDetail['extraBytes'] | null;
}

/** What is sorted, by what, and whether it moves or is copied: both with the room they take. */
export function ScopeChoice({ projectId, choices, onChange, extra }: Props) {
  const [watched, watch] = useWatched(projectId);
  const { data: timelines = [] } = useTimelines(projectId);
  const { scope } = choices;
  return (
    <div className="controls scope">
      <Choice
        label="What is sorted"
        width={158}
        options={[
          ['project', 'All of the project'],
          ['timelines', 'What timelines use'],
          ['folder', 'A shelf or a folder'],
          ...(scope.of === 'clips' ? ([['clips', plural(scope.clipIds.length, 'chosen clip')]] as const) : []),
        ]}
        value={scope.of}
        onChange={(of) => {
          if (of === 'project') onChange({ scope: { of } });
          if (of === 'timelines') onChange({ scope: { of, timelineIds: timelines.slice(0, 1).map(({ id }) => id) } });
          if (of === 'folder') onChange({ scope: { of, place: { shelfId: choices.destination?.shelfId ?? '', path: '' } } });
        }}
      />
      {scope.of === 'timelines' && (
        <TimelinesPick
          projectId={projectId}
          value={scope.timelineIds}
          onChange={(timelineIds) => onChange({ scope: { of: 'timelines', timelineIds } })}
        />
      )}
      {scope.of === 'folder' && (
        <PlacePicker
          label="Which shelf or folder"
          value={scope.place.shelfId === '' ? null : scope.place}
          onChange={(place) => place && onChange({ scope: { of: 'folder', place } })}
        />
      )}
      {scope.of === 'folder' && scope.place.shelfId !== '' && (
        <Checkbox
          size="xs"
          label="Watch it"
          title="The overview tells when a stocktake finds something new in it"
          checked={watched.some((place) => samePlace(place, scope.place))}
          onChange={({ currentTarget: { checked } }) => {
            const others = watched.filter((place) => !samePlace(place, scope.place));
            watch(checked ? [...others, scope.place] : others);
          }}
        />
      )}
      <Choice
        label="Into which folders"
        width={150}
        options={[
          ['scheme', 'By the scheme'],
          ['bins', 'After the bins'],
          ['as-it-was', 'Folders as they were'],
        ]}
        value={choices.structure}
        onChange={(structure) => onChange({ structure })}
      />
      <SegmentedControl
        size="xs"
        aria-label="Move or copy"
        className="push"
        data={[
          { value: 'move', label: `Move${extra ? ` · ${extra.move === 0 ? 'no' : formatBytes(extra.move)} more room` : ''}` },
          { value: 'copy', label: `Copy${extra ? ` · ${formatBytes(extra.copy)} more` : ''}` },
        ]}
        value={choices.action}
        onChange={(action) => onChange({ action: action as 'move' | 'copy' })}
      />
    </div>
  );
}
