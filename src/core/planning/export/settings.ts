import Joi from 'joi';
import { folderNameForm, placeForm, timelineIdsForm } from '../../forms/atoms';
import { SOURCE_COUNTS, type SourceCount } from '../../project/source-count';
import type { Place } from '../../media/item';

/** Formats that timelines are written in, as people are told; what writes them stands in export-formats.ts. */
export const EXPORT_TITLES = {
  otio: 'OpenTimelineIO (.otio)',
  otioz: 'OTIO bundle, one file (.otioz)',
  otiod: 'OTIO bundle, a folder (.otiod)',
  edl: 'CMX 3600 lists (.edl)',
  csv: 'clip list (.csv)',
} as const;
export type ExportFormat = keyof typeof EXPORT_TITLES;
export const EXPORT_FORMATS = Object.keys(EXPORT_TITLES) as readonly ExportFormat[];

export interface ExportSettings {
  readonly timelineIds: readonly string[];
  readonly format: ExportFormat;
  readonly destination: Place | null;
  /** Folder made at the destination; empty writes into the destination itself. */
  readonly folderName: string;
  /** In which frames lists count sources of another rate; absent: as is set for each timeline, else in the source's own. */
  readonly sourceCount?: SourceCount;
  /** Nested timelines with layers in a list: flattened to the topmost picture of each moment; absent: one event without a source. */
  readonly nested?: 'flatten';
}

export const exportForm = Joi.object<ExportSettings>({
  timelineIds: timelineIdsForm.required(),
  format: Joi.string()
    .valid(...EXPORT_FORMATS)
    .required(),
  destination: placeForm.allow(null).required(),
  folderName: folderNameForm.required(),
  sourceCount: Joi.string().valid(...SOURCE_COUNTS),
  nested: Joi.valid('flatten'),
});
