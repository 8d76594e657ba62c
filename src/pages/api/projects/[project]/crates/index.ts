export { listCrates as GET } from '../../../../../server/api/crates';
