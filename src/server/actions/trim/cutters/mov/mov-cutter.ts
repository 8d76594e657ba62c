import { cutPictures } from '../cut-pictures';
import type { Cutter } from '../cutter';
import { trimArguments } from './mov-arguments';

export const movCutter: Cutter = {
  containers: ['mov'],
  // Only the MOV reader knows edit lists.
  cut: (job) => cutPictures(job, trimArguments(job.source, job.part, job.range, job.facts), ['-ignore_editlist', '1']),
};
