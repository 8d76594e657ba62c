export { getTimeline as GET, removeTimeline as DELETE } from '../../../../../server/api/timelines';
