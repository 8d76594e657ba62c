export { getSamplePicture as GET } from '../../../../server/api/items';
