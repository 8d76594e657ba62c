export { setPlugged as POST } from '../../../server/api/shelves';
