export { listClips as GET, setClipsAside as PATCH } from '../../../../server/api/projects';
