import { AFTER_STOCKTAKE } from './after-stocktake';

/** What can be switched on, as it is called by the interface. */
export const AUTOMATIONS: readonly string[] = [AFTER_STOCKTAKE];
