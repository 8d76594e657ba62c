import { Proxies } from '../proxies/Proxies';
import { ProjectPage } from './ProjectPage';

export default function ProxiesStage({ projectId }: { projectId: string }) {
  return <ProjectPage projectId={projectId} stage="proxies" content={Proxies} />;
}
