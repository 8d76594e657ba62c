export { preferRun as POST } from '../../../../server/api/runs';
