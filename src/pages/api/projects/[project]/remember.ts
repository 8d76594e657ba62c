export { remember as POST } from '../../../../server/api/projects';
