export { getOverview as GET } from '../../../../server/api/projects';
