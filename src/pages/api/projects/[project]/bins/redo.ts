export { redoEdit as POST } from '../../../../../server/api/bins';
