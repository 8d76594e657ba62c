export { duplicateProject as POST } from '../../../../server/api/projects';
