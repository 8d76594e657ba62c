export { listTimelines as GET, addTimeline as POST } from '../../../../../server/api/timelines';
