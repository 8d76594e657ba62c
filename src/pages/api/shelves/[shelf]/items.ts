export { listItems as GET } from '../../../../server/api/shelves';
