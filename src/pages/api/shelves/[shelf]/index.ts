export { renameShelf as PATCH, removeShelf as DELETE } from '../../../../server/api/shelves';
