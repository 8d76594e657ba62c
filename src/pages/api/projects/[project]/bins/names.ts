export { previewNames as POST } from '../../../../../server/api/bins';
