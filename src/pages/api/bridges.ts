export { listBridges as GET } from '../../server/api/timelines';
