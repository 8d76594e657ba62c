export { getClipList as GET } from '../../../../../server/api/bins';
