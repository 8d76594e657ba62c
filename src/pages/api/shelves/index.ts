export { listShelves as GET, addShelf as POST } from '../../../server/api/shelves';
