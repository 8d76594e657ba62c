export { importScheme as POST } from '../../../server/api/schemes';
