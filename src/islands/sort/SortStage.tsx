import { App } from '../shared/App';
import { Sort } from './Sort';

export default function SortStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Sort projectId={projectId} />
    </App>
  );
}
