import { App } from '../shared/App';
import { Frame } from '../shared/Frame';
import type { Stage } from '../shared/stages';
import type { StageContent } from './stage-contents';
import { useMoving } from './use-moving';

interface Props {
  readonly projectId: string;
  /** What the page was opened with; the others are fetched when they are gone to. */
  readonly stage: Stage['id'];
  readonly content: StageContent;
}

/** All of a project on one page: the frame stands, the stages change in it. */
export function ProjectPage({ projectId, ...first }: Props) {
  const { stage, content: Content } = useMoving(projectId, first);
  return (
    <App>
      <Frame projectId={projectId} stage={stage}>
        <Content key={stage} projectId={projectId} />
      </Frame>
    </App>
  );
}
