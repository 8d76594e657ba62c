/** What a clip is called that a sort makes: after the name its file came with, whatever the file is called then. */
import { stemOf } from '../../media/card';

/** `name`: of the file as it came; of a sequence as the stock lists it, with its numbers. */
export function clipNameOf(name: string, isSequence: boolean): string {
  const stem = stemOf(name);
  return (isSequence ? stem.replace(/[._ -]{0,8}\[\d+-\d+\]$/, '') : stem) || stem;
}
