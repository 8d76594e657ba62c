export { resumeRun as POST } from '../../../../server/api/runs';
