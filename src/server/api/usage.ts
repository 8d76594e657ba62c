import { endpointWithBody } from './endpoint';
import { usageSchema } from './schemas';

/** Usage of a choice of timelines, bins and clips: its sums, a window of one of its lists, or one item with those who use it. */
export const findUsage = endpointWithBody(usageSchema, ({ house, params, body: request }) =>
  house.study({ ask: 'usage', projectId: params.project!, request }),
);
