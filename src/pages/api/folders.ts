export { listFolders as GET } from '../../server/api/shelves';
