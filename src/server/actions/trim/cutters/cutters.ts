/** The table of cutters. */
import type { Cutter } from './cutter';
import { movCutter } from './mov/mov-cutter';
import { mxfCutter } from './mxf/mxf-cutter';
import { wavCutter } from './wav/wav-cutter';

export const CUTTERS: readonly Cutter[] = [movCutter, mxfCutter, wavCutter];

export function cutterFor(container: string, table = CUTTERS): Cutter | undefined {
  return table.find(({ containers }) => containers.includes(container));
}
