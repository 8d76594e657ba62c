/** Light copies that projects wish to have made whenever a stocktake has found something new. */
import { PROXIES_AT_FIRST, proxyForm, type ProxySettings } from '../core/planning/proxies/settings';
import type { Catalogue } from './catalogue/catalogue';
import type { PlanRequest } from './kinds/kinds';
import type { Runner } from './runs/runner';
import type { Question } from './study';

/** Name under which a project keeps the wish. */
export const AFTER_STOCKTAKE = 'proxies-after-stocktake';

/** As much of the house as it takes. */
interface Wishing {
  readonly catalogue: Catalogue;
  readonly runner: Pick<Runner, 'begin'>;
  study(question: Question): Promise<{ readonly json: string }>;
}

/** What was begun for a project last: what failed is not begun again before something is another. */
const begun = new Map<string, string>();

/** Plans as the Proxies stage would, with what was chosen there, and runs it where something lacks. Never rejects. */
export async function makeWishedProxies(house: Wishing): Promise<void> {
  for (const { id } of house.catalogue.projects.list()) {
    const remembered = house.catalogue.projects.remembered(id);
    if ((remembered[AFTER_STOCKTAKE] as { wished?: boolean } | undefined)?.wished !== true) continue;
    try {
      await makeFor(house, id, remembered.proxies ?? {});
    } catch (error) {
      console.error(`Proxies after the stocktake could not be planned: ${error instanceof Error ? error.message : String(error)}`);
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
  const { digest, plan } = JSON.parse((await house.study({ ask: 'plan', projectId, request })).json) as {
    digest: string;
    plan: { blocked: string | null };
  };
  if (plan.blocked !== null || begun.get(projectId) === digest) return;
  begun.set(projectId, digest);
  const { id } = JSON.parse((await house.study({ ask: 'enter-run', projectId, request, digest })).json) as { id: number };
  house.runner.begin(id);
}
