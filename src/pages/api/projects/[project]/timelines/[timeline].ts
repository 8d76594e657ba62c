export { changeTimeline as PATCH, getTimeline as GET, removeTimeline as DELETE } from '../../../../../server/api/timelines';
