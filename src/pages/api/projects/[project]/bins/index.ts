export { getBins as GET, editBins as POST } from '../../../../../server/api/bins';
