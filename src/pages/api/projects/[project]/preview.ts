export { previewTimeline as POST } from '../../../../server/api/timelines';
