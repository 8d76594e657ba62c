export { editCrate as PATCH } from '../../../../../server/api/crates';
