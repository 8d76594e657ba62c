import { Sort } from '../sort/Sort';
import { ProjectPage } from './ProjectPage';

export default function SortStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="sort" content={Sort} />;
}
