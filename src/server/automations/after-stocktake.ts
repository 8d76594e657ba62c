/** Light copies that projects wish to have made whenever a stocktake has found something new. */
import { PROXIES_AT_FIRST, proxyForm, type ProxySettings } from '../../core/planning/proxies/settings';
import type { Catalogue } from '../catalogue/catalogue';
import type { PlanRequest } from '../kinds/kinds';
import type { Runner } from '../runs/runner';
import type { AnswerTo, Question } from '../questions/questions';
import { log } from '../log/log';
import { automationActor } from '../runs/actor';

/** As it is called in the catalogue and by the interface. */
export const AFTER_STOCKTAKE = 'proxies-after-stocktake';

/** The parts of the house that it uses. */
interface Wishing {
  readonly catalogue: Catalogue;
  readonly runner: Pick<Runner, 'begin'>;
  ask<Q extends Question>(question: Q): Promise<AnswerTo<Q['ask']>>;
}

/** What was begun for a project last: what failed is not begun again before something is another. */
const begun = new Map<string, string>();

/** Plans as the Proxies stage would, with what was chosen there, and runs it where something lacks. Never rejects. */
export async function makeWishedProxies(house: Wishing): Promise<void> {
  for (const { projectId, settings } of house.catalogue.automations.on(AFTER_STOCKTAKE)) {
    try {
      await makeFor(house, projectId, settings);
    } catch (error) {
      log.warn({ error, project: projectId }, 'proxies after the stocktake could not be planned');
    }
  }
}

async function makeFor(house: Wishing, projectId: string, kept: Partial<ProxySettings>): Promise<void> {
  // Whichever clips were looked at last: what was found may be any.
  const wanted = { ...PROXIES_AT_FIRST, ...kept, scope: { of: 'project' }, onlyLacking: true, asHome: false, leave: [], order: null };
  const checked = proxyForm.validate(wanted, { stripUnknown: true });
  // What the stage itself would not plan waits for somebody to look at it.
  if (checked.error) return;
  const request: PlanRequest = { kind: 'proxies', settings: checked.value };
  const { digest, plan } = await house.ask({ ask: 'plan', projectId, request });
  if (plan.blocked !== null || begun.get(projectId) === digest) return;
  begun.set(projectId, digest);
  const { id } = await house.ask({ ask: 'enter-run', projectId, request, digest, actor: automationActor(AFTER_STOCKTAKE) });
  house.runner.begin(id);
}
