export { compareVersions as GET } from '../../../../server/api/timelines';
