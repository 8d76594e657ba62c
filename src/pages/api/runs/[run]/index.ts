export { getRun as GET } from '../../../../server/api/runs';
