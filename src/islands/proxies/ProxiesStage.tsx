import { App } from '../shared/App';
import { Proxies } from './Proxies';

export default function ProxiesStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Proxies projectId={projectId} />
    </App>
  );
}
