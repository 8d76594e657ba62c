import { App } from '../shared/App';
import { RunList } from './RunList';

export default function RunsStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <RunList projectId={projectId} />
    </App>
  );
}
