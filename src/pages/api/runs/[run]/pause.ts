export { pauseRun as POST } from '../../../../server/api/runs';
