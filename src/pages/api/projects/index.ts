export { listProjects as GET, addProject as POST } from '../../../server/api/projects';
