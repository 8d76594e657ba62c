import { App } from '../shared/App';
import { Pull } from './Pull';

export default function PullStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Pull projectId={projectId} />
    </App>
  );
}
