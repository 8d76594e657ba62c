export { listClipFiles as GET } from '../../../../../server/api/projects';
