export { listCrates as GET } from '../../../../server/api/projects';
