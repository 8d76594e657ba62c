export { getItem as GET } from '../../../../server/api/items';
