import { Shelves } from '../shelves/Shelves';
import { ProjectPage } from './ProjectPage';

export default function ShelvesStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="shelves" content={Shelves} />;
}
