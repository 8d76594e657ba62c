export { getMedia as GET } from '../../../../server/api/items';
