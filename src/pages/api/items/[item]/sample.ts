export { getSample as GET } from '../../../../server/api/items';
