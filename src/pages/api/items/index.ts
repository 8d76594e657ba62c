export { findItems as GET } from '../../../server/api/shelves';
