/** Formats that timelines are written in. A new one is a file with one of these, a line here and its name in settings.ts. */
import { otiodExport, otiozExport } from './bundle-export';
import { clipListExport } from './clip-list-export';
import { edlExport } from './edl-export';
import type { ExportFormatEntry } from './exporting';
import { otioExport } from './otio-export';
import type { ExportFormat } from './settings';

export const EXPORTERS: Readonly<Record<ExportFormat, ExportFormatEntry>> = {
  otio: otioExport,
  otioz: otiozExport,
  otiod: otiodExport,
  edl: edlExport,
  csv: clipListExport,
};
