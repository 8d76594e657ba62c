export { listSteps as GET } from '../../../../server/api/runs';
