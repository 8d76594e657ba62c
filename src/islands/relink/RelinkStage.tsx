import { App } from '../shared/App';
import { Relink } from './Relink';

export default function RelinkStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Relink projectId={projectId} />
    </App>
  );
}
