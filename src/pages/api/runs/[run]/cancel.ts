export { cancelRun as POST } from '../../../../server/api/runs';
