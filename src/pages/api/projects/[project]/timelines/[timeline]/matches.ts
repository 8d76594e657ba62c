export { removeMatches as DELETE } from '../../../../../../server/api/timelines';
