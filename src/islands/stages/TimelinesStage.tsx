import { Timelines } from '../timelines/Timelines';
import { ProjectPage } from './ProjectPage';

export default function TimelinesStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="timelines" content={Timelines} />;
}
