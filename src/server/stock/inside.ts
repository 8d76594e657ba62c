/** Whether a path of this machine is a folder or lies in it. */
import { relative, sep } from 'node:path';

export function isInside(root: string, path: string): boolean {
  const rest = relative(root, path);
  return rest === '' || (rest !== '..' && !rest.startsWith(`..${sep}`) && !rest.startsWith(sep));
}
