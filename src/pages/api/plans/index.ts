export { addPlan as POST } from '../../../server/api/runs';
