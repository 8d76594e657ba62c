export { exportScheme as GET } from '../../../../server/api/schemes';
