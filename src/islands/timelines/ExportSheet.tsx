import { Checkbox, CloseButton, Select, TextInput } from '@mantine/core';
import { useMemo } from 'react';
import { EXPORT_FORMATS, EXPORT_TITLES, exportForm, type ExportFormat } from '../../core/planning/export/settings';
import type { SourceCount } from '../../core/project/source-count';
import type { Place } from '../../core/media/item';
import { Bytes, plural } from '../shared/figures';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { usePlan } from '../shared/use-plan';
import { useRemembered } from '../shared/use-remembered';

interface Choice {
  readonly format: ExportFormat;
  readonly destination: Place | null;
  readonly folderName: string;
  readonly sourceCount?: SourceCount | undefined;
  readonly nested?: 'flatten' | undefined;
}

const initial = (): Choice => ({ format: 'otio', destination: null, folderName: 'Exports' });

/** The plan sheet of an export: what is written where, and what the format cannot carry. */
export function ExportSheet({ projectId, timelineIds, onClose }: { projectId: string; timelineIds: readonly string[]; onClose: () => void }) {
  const [choice, change] = useRemembered<Choice>(projectId, 'export', initial);
  const key = choice === null ? null : JSON.stringify({ ...choice, timelineIds });
  const settings = useMemo(() => (key === null ? null : (JSON.parse(key) as Choice & { timelineIds: string[] })), [key]);
  const state = usePlan('export', projectId, settings, exportForm);
  return (
    <PlanSheet
      state={state}
      idle="Choose a timeline to export."
      runLabel={(plan) => (plan.blocked ? 'Run this plan' : `Write ${plural(plan.detail.rows.length, 'file')}`)}
    >
      {choice && (
        <div className="sheet-fields">
          <div className="side-by-side">
            <span className="soft grow">Format and place</span>
            <CloseButton size="sm" aria-label="Close the export" onClick={onClose} />
          </div>
          <Select
            size="xs"
            aria-label="Format"
            data={EXPORT_FORMATS.map((format) => ({ value: format, label: EXPORT_TITLES[format] }))}
            value={choice.format}
            allowDeselect={false}
            onChange={(format) => format && change({ format: format as ExportFormat })}
          />
          {(choice.format === 'edl' || choice.format === 'csv') && (
            <Select
              size="xs"
              label="Source timecode of sources at another rate"
              data={[
                { value: 'timeline', label: 'As set for the timeline' },
                { value: 'source', label: 'Frames of the source' },
                { value: 'list', label: 'Frames of the list' },
              ]}
              value={choice.sourceCount ?? 'timeline'}
              allowDeselect={false}
              onChange={(value) => change({ sourceCount: value === 'timeline' ? undefined : (value as SourceCount) })}
            />
          )}
          {choice.format === 'edl' && (
            <Checkbox
              size="xs"
              label="Flatten nested timelines with layers"
              checked={choice.nested === 'flatten'}
              onChange={(event) => change({ nested: event.currentTarget.checked ? 'flatten' : undefined })}
            />
          )}
          <PlacePicker label="Destination shelf" value={choice.destination} onChange={(destination) => change({ destination })} />
          <Ask plan={state.plan} code="no-destination" />
          <TextInput
            size="xs"
            aria-label="Name of the folder"
            error={state.invalid.folderName}
            placeholder="no folder of its own"
            value={choice.folderName}
            onChange={(event) => change({ folderName: event.currentTarget.value })}
            classNames={{ input: 'mono-input' }}
          />
          {state.plan && state.plan.detail.rows.length > 0 && (
            <div className="made-files">
              {state.plan.detail.rows.map((row) => (
                <div key={row.path} title={row.path}>
                  <span className="mono">{row.path}</span>
                  <Bytes value={row.bytes} />
                </div>
              ))}
            </div>
          )}
        </div>
      )}
    </PlanSheet>
  );
}
