export { listCardRules as GET, addCardRule as POST } from '../../../server/api/card-rules';
