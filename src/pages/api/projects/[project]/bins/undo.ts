export { undoEdit as POST } from '../../../../../server/api/bins';
