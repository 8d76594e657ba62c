export { listRuns as GET, addRun as POST } from '../../../server/api/runs';
