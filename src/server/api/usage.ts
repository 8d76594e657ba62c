import { endpointWithBody } from './endpoint';
import { usageSchema } from './schemas';

/** Usage of a choice of timelines, bins and clips: by item; with `key`, one item and everyone who uses it. */
export const findUsage = endpointWithBody(usageSchema, ({ house, params, body: { key, ...choice } }) =>
  house.study({ ask: 'usage', projectId: params.project!, choice, key: key ?? null }),
);
