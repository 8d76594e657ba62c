import { App } from '../shared/App';
import { Timelines } from './Timelines';

export default function TimelinesStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Timelines projectId={projectId} />
    </App>
  );
}
