/** A timeline as lists, one a track. */
import { writeEdl } from '../../interchange/edl/edl-writer';
import { portableName } from '../../naming/safe-name';
import { type Step } from '../plan/step';
import type { TimelineSnapshot } from '../plan/snapshot';
import type { ExportFormatEntry, Exporting, ExportRow, Made } from './exporting';

export const edlExport: ExportFormatEntry = { write: edl };

function edl(out: Exporting, timeline: TimelineSnapshot): Made {
  const { files, findings } = writeEdl(timeline.model, (event) => out.listSource(timeline, event), out.flattensNested);
  const steps: Step[] = [];
  const rows: ExportRow[] = [];
  for (const file of files) {
    const path = out.names.claim('', `${portableName(`${timeline.model.name} ${file.label}`)}.edl`);
    const step = out.write(path, file.text, `track ${file.label}`);
    steps.push(step);
    rows.push(out.row(timeline, path, step.expectedBytes, 0, file.events));
  }
  return { steps, rows, findings };
}
