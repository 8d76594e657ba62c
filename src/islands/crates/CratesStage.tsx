import { App } from '../shared/App';
import { Crates } from './Crates';

export default function CratesStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Crates projectId={projectId} />
    </App>
  );
}
