/** On whose word something is done. People have no names here yet: whoever works at this machine is one. */
export const THIS_MACHINE = 'this machine';

/** A rule that begins runs by itself. */
export function automationActor(name: string): string {
  return `automation: ${name}`;
}
