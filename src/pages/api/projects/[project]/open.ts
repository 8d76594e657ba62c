export { openProject as POST } from '../../../../server/api/projects';
