export { getProject as GET, renameProject as PATCH, removeProject as DELETE } from '../../../../server/api/projects';
