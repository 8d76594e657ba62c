export { changeScheme as PUT, removeScheme as DELETE } from '../../../../server/api/schemes';
