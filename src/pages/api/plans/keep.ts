export { keepPlan as POST } from '../../../server/api/runs';
