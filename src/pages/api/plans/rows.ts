export { listPlanRows as POST } from '../../../server/api/runs';
