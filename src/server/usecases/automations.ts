/** What begins by itself: switched on and off, with settings of its own. */
import { AUTOMATIONS } from '../automations/automations';
import { notFound, Problem } from '../errors/problem';
import { projectOf } from './projects';
import type { Actor, House } from './use-case';

interface Wish {
  readonly projectId: string;
  readonly name: string;
  readonly isOn: boolean;
  /** As the kind of its plans has them: what is no setting of it is left out when it begins. */
  readonly settings: object;
}

export function setAutomation(house: House, actor: Actor, { projectId, name, isOn, settings }: Wish): void {
  const { id } = projectOf(house, projectId);
  const form = AUTOMATIONS.get(name);
  if (!form) throw notFound('automation');
  const { error } = form.validate(settings);
  if (error) throw new Problem('bad-body', `${error.message}.`);
  house.catalogue.automations.put(id, { name, isOn, settings }, actor);
  house.changed('projects', id);
}
