import { App } from '../shared/App';
import { Frame } from '../shared/Frame';
import { Overview } from './Overview';

export default function OverviewStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Frame projectId={projectId} stage="overview" sheet={null}>
        <Overview projectId={projectId} />
      </Frame>
    </App>
  );
}
