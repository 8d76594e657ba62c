import { App } from '../shared/App';
import { Frame } from '../shared/Frame';
import { Shelves } from './Shelves';

export default function ShelvesStage({ projectId }: { projectId: string }) {
  return (
    <App>
      <Frame projectId={projectId} stage="shelves" sheet={null}>
        <Shelves />
      </Frame>
    </App>
  );
}
