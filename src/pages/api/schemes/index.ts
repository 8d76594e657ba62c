export { listSchemes as GET, addScheme as POST } from '../../../server/api/schemes';
