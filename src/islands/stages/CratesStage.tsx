import { Crates } from '../crates/Crates';
import { ProjectPage } from './ProjectPage';

export default function CratesStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="crates" content={Crates} />;
}
