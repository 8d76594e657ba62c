export { findUsage as POST } from '../../../../server/api/usage';
