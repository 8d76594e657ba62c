import { readTimelineFile, type TimelineFile } from '../../core/interchange/read-timeline-file';
import type { Rate } from '../../core/time/rate';

export interface ReadTimelineJob {
  readonly text: string;
  readonly projectRate: Rate;
}

export default function readTimeline(job: ReadTimelineJob): TimelineFile {
  return readTimelineFile(job.text, job.projectRate);
}
