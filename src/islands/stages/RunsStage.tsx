import { RunList } from '../runs/RunList';
import { ProjectPage } from './ProjectPage';

export default function RunsStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="runs" content={RunList} />;
}
