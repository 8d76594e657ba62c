import { App } from '../shared/App';
import { ProjectList } from './ProjectList';

export default function ProjectsPage() {
  return (
    <App>
      <ProjectList />
    </App>
  );
}
