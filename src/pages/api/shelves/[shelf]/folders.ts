export { listShelfFolders as GET } from '../../../../server/api/shelves';
