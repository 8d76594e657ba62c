import { Relink } from '../relink/Relink';
import { ProjectPage } from './ProjectPage';

export default function RelinkStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="relink" content={Relink} />;
}
