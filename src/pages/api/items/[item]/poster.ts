export { getPoster as GET } from '../../../../server/api/items';
