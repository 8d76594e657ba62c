export { getProject as GET, editProject as PATCH, removeProject as DELETE } from '../../../../server/api/projects';
