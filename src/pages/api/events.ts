export { streamNews as GET } from '../../server/api/events';
