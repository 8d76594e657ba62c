import { Pull } from '../pull/Pull';
import { ProjectPage } from './ProjectPage';

export default function PullStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="pull" content={Pull} />;
}
