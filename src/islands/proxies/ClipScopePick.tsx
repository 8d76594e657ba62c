import { Select } from '@mantine/core';
import type { ClipScope } from '../../core/planning/taking/clip-scope';
import { plural } from '../shared/figures';
import { Choice } from '../shared/form/Choice';
import { TimelinesPick } from '../shared/form/TimelinesPick';
import { useBins, useTimelines } from '../shared/questions';

interface Props {
  readonly projectId: string;
  readonly scope: ClipScope;
  readonly onChange: (scope: ClipScope) => void;
  /** A choice that makes no sense here. */
  readonly without?: ClipScope['of'];
}

/** For which clips: all, a bin, what timelines use, or those that were chosen elsewhere. */
export function ClipScopePick({ projectId, scope, onChange, without }: Props) {
  const { data: timelines = [] } = useTimelines(projectId);
  const { data: bins } = useBins(projectId);
  return (
    <>
      <Choice
        label="For which clips"
        width={170}
        options={[
          ['project', 'All of the project'],
          ['bin', 'A bin'],
          ...(without === 'timelines' ? [] : ([['timelines', 'What timelines use']] as const)),
          ...(scope.of === 'clips' ? ([['clips', plural(scope.clipIds.length, 'chosen clip')]] as const) : []),
        ]}
        value={scope.of}
        onChange={(of) => {
          if (of === 'project') onChange({ of });
          if (of === 'bin') onChange({ of, path: bins?.bins[0]?.path ?? '' });
          if (of === 'timelines') onChange({ of, timelineIds: timelines.slice(0, 1).map(({ id }) => id) });
        }}
      />
      {scope.of === 'bin' && (
        <Select
          size="xs"
          w={220}
          aria-label="Which bin"
          searchable
          data={(bins?.bins ?? []).map(({ path }) => ({ value: path, label: path.split('/').join(' / ') }))}
          value={scope.path}
          allowDeselect={false}
          onChange={(path) => path !== null && onChange({ of: 'bin', path })}
        />
      )}
      {scope.of === 'timelines' && (
        <TimelinesPick projectId={projectId} value={scope.timelineIds} onChange={(timelineIds) => onChange({ of: 'timelines', timelineIds })} />
      )}
    </>
  );
}
