export { addUpload as POST } from '../../server/api/timelines';
