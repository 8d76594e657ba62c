import { cutPictures } from '../cut-pictures';
import type { Cutter } from '../cutter';
import { mxfArguments } from './mxf-arguments';

export const mxfCutter: Cutter = {
  containers: ['mxf'],
  cut: (job) => cutPictures(job, mxfArguments(job.source, job.part, job.range, job.facts), []),
};
