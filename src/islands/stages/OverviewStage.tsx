import { Overview } from '../overview/Overview';
import { ProjectPage } from './ProjectPage';

export default function OverviewStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="overview" content={Overview} />;
}
