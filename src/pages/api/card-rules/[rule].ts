export { removeCardRule as DELETE } from '../../../server/api/card-rules';
